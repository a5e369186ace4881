import { defineConfig } from 'vite';

// Nine files: what every page needs, as one classic script that runs from any place of any page; and as modules that are
// fetched where they are needed, what draws a slip, what few pages draw, what watches forms and baskets, what only the site's
// own people see, what draws a launcher, what is in its panel, what holds a talk, and what draws the fields of a prompt. Names of private members stay as they are: mangling them
// saves little after brotli and hides what runs on other people's sites.
const part = process.env.OUTCRY_PART;

export default defineConfig({
  build: {
    outDir: '../../src/Outcry.Server/wwwroot/snippet',
    emptyOutDir: !part,
    target: 'es2022',
    cssTarget: ['chrome117', 'firefox117', 'safari17'],
    lib: part ? undefined : { entry: 'src/entry.ts', formats: ['iife'], name: 'outcrySnippet', fileName: () => 'outcry.js' },
    rollupOptions: part
      ? { input: `src/${part}.ts`, preserveEntrySignatures: 'strict', output: { format: 'es', entryFileNames: `${part}.js` } }
      : {},
    modulePreload: false,
  },
});
