import { defineConfig } from 'vite';

// Two files: what every page needs, as one classic script that runs from any place of any page; and what few pages need,
// as a module that is fetched when a plan asks for it. Names of private members stay as they are: mangling them saves
// little after brotli and hides what runs on other people's sites.
const second = process.env.OUTCRY_PART === 'shapes';

export default defineConfig({
  build: {
    outDir: '../../src/Outcry.Server/wwwroot/snippet',
    emptyOutDir: !second,
    target: 'es2022',
    cssTarget: ['chrome117', 'firefox117', 'safari17'],
    lib: second ? undefined : { entry: 'src/entry.ts', formats: ['iife'], name: 'outcrySnippet', fileName: () => 'outcry.js' },
    rollupOptions: second
      ? { input: 'src/shapes.ts', preserveEntrySignatures: 'strict', output: { format: 'es', entryFileNames: 'shapes.js' } }
      : {},
    modulePreload: false,
  },
});
