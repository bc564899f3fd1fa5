import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { target: 'es2022', chunkSizeWarningLimit: 1500 },
  test: { environment: 'happy-dom', include: ['tests/**/*.test.ts'] },
  server: { proxy: { '/api': 'http://127.0.0.1:5210', '/hub': { target: 'http://127.0.0.1:5210', ws: true } } },
});
