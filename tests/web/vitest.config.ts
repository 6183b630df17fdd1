import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const file = (path: string) => fileURLToPath(new URL(path, import.meta.url));

// The app and the tests must share one React and one query client: those of the app.
const shared = ['react', 'react-dom', '@tanstack/react-query'];

export default defineConfig({
  resolve: {
    alias: {
      ...Object.fromEntries(shared.map((name) => [name, file(`../../src/web/node_modules/${name}`)])),
      '@testing-library/react': file('node_modules/@testing-library/react/dist/@testing-library/react.esm.js'),
    },
  },
  test: {
    environment: 'happy-dom',
    environmentOptions: { happyDOM: { url: 'http://127.0.0.1:5080/' } },
    setupFiles: ['server.ts'],
    // Most of what a file takes is to begin: two at once.
    maxWorkers: 2,
    // No test depends on how fast it runs: whoever waits longer waits for ever.
    testTimeout: 120_000,
    hookTimeout: 120_000,
    server: { deps: { inline: [/testing-library\/react/] } },
  },
});
