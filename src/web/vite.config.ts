import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

/** Beside each script and style the same, compressed once and well: what the server sends. */
const compressed = (): Plugin => ({
  name: 'compressed',
  apply: 'build',
  writeBundle({ dir = 'dist' }) {
    const assets = join(dir, 'assets');
    for (const file of readdirSync(assets).filter((name) => /\.(js|css)$/.test(name)))
      writeFileSync(join(assets, `${file}.br`), brotliCompressSync(readFileSync(join(assets, file))));
  },
});

export default defineConfig({
  // Parts are drawn anew only where what they show has changed.
  plugins: [react({ compiler: true }), tailwindcss(), compressed()],
  build: { target: 'es2023', sourcemap: false },
  server: { proxy: { '/api': 'http://127.0.0.1:5080' } },
});
