import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { build, type Plugin } from 'vite';
import { defineConfig } from 'vitest/config';

/** Builds the service worker, with the list of the files that the application is made of. */
function serviceWorker(): Plugin {
  let out = '';
  return {
    name: 'service-worker',
    apply: 'build',
    configResolved: (config) => void (out = join(config.root, config.build.outDir)),
    closeBundle: async () => {
      // Browsers that have service workers read WOFF2.
      const paths = readdirSync(out, { recursive: true, withFileTypes: true })
        .filter((f) => f.isFile() && !f.name.endsWith('.woff'))
        .map((f) => join(f.parentPath, f.name).slice(out.length));
      const digest = (path: string) =>
        createHash('sha256')
          .update(readFileSync(join(out, path)))
          .digest('hex')
          .slice(0, 16);
      // What lies under assets has its digest in its name.
      const files = paths.map((url) => ({ url, revision: url.startsWith('/assets/') ? null : digest(url) }));
      await build({
        configFile: false,
        logLevel: 'error',
        define: { applicationFiles: JSON.stringify(files), 'process.env.NODE_ENV': '"production"' },
        build: {
          outDir: out,
          emptyOutDir: false,
          copyPublicDir: false,
          lib: { entry: 'worker/serviceWorker.ts', formats: ['es'], fileName: () => 'service-worker.js' },
        },
      });
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), serviceWorker()],
  build: { target: 'es2022', chunkSizeWarningLimit: 1500 },
  test: { environment: 'happy-dom', include: ['tests/**/*.test.ts'] },
  server: { proxy: { '/api': 'http://127.0.0.1:5210', '/hub': { target: 'http://127.0.0.1:5210', ws: true } } },
});
