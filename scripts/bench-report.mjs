// Gathers the figures: a table for people, a list for machines.
import { readFileSync, writeFileSync } from 'node:fs';

const [file, json] = process.argv.slice(2);
const figures = readFileSync(file, 'utf8').trim().split('\n').map((line) => JSON.parse(line));
const round = (n) => (n == null ? '' : Math.abs(n) < 0.01 ? n.toExponential(3) : Number(n.toPrecision(5)).toLocaleString('en-GB'));
console.log('\n| name | value | unit | baseline | ratio | spread |\n|---|---|---|---|---|---|');
for (const f of figures) console.log(`| ${f.name} | ${round(f.value)} | ${f.unit} | ${round(f.baseline)} | ${f.ratio?.toFixed(2)} | ${f.spread} |`);
if (json) writeFileSync(json, `${JSON.stringify(figures, null, 2)}\n`);
