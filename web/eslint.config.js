import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config({ ignores: ['src/api/schema.ts'] }, ...tseslint.configs.recommendedTypeChecked, {
  languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
  plugins: { 'react-hooks': hooks },
  rules: {
    'react-hooks/rules-of-hooks': 'error',
    'react-hooks/exhaustive-deps': 'error',
    // Colours and tones come from the theme in app.css, so that a room can't have tones of its own.
    'no-restricted-syntax': [
      'error',
      {
        selector: String.raw`:matches(Literal[value=/#[0-9a-f]{3,8}\b/i], TemplateElement[value.raw=/#[0-9a-f]{3,8}\b/i])`,
        message: 'Take a colour of the theme (app.css).',
      },
    ],
  },
});
