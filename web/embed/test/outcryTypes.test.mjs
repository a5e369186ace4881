import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';

const names = (file) => [...readFileSync(file, 'utf8').matchAll(/\[name: '(\w+)'/g)].map((m) => m[1]).sort();

it('gives pages the types of every call that the snippet takes, and of no other', () => {
  expect(names('outcry.d.ts')).toEqual(names('src/core/calls.ts'));
  expect(names('outcry.d.ts').length).toBeGreaterThan(6);
});
