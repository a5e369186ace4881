import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: '../../src/Outcry.Server/wwwroot',
    // The snippet is built into a folder beside these files and must survive.
    emptyOutDir: false,
    target: 'es2022',
    assetsInlineLimit: 0,
  },
  server: { port: 5082, proxy: { '/api': 'http://localhost:5080', '/live': { target: 'http://localhost:5080', ws: true } } },
});
