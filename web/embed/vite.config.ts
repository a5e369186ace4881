import { defineConfig } from 'vite';

// One classic script, so that it runs from any place of any page. Names of private members stay as they are:
// mangling them saves little after brotli and hides what runs on other people's sites.
export default defineConfig({
  build: {
    outDir: '../../src/Outcry.Server/wwwroot/snippet',
    emptyOutDir: true,
    target: 'es2020',
    lib: { entry: 'src/entry.ts', formats: ['iife'], name: 'outcrySnippet', fileName: () => 'outcry.js' },
  },
});
