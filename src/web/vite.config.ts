import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  // Parts are drawn anew only where what they show has changed.
  plugins: [react({ compiler: true }), tailwindcss()],
  build: { target: 'es2023', sourcemap: false },
  server: { proxy: { '/api': 'http://127.0.0.1:5080' } },
});
