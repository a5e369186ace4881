// Interleaved short rounds of wrk against two endpoints; the median of the rounds' ratios is the figure.
import { execFileSync } from 'node:child_process';
import { appendFileSync } from 'node:fs';

const [script, ours, empty, file] = process.argv.slice(2);
const ROUNDS = 9;

function run(url, seconds) {
  const out = execFileSync('wrk', ['-t1', '-c32', `-d${seconds}s`, '-s', script, url]).toString();
  if (/Non-2xx/.test(out)) throw new Error(`${url} refused requests:\n${out}`);
  return Number(/Requests\/sec:\s+([\d.]+)/.exec(out)[1]);
}

const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
// The runtime goes on compiling what is hot for half a minute, beside the requests and on the same cores.
run(ours, 40);
run(empty, 10);
const rounds = [];
for (let i = 0; i < ROUNDS; i++) rounds.push([run(ours, 3), run(empty, 3)]);
const ratios = rounds.map(([o, e]) => o / e);
appendFileSync(
  file,
  `${JSON.stringify({
    name: 'plan-endpoint',
    value: median(rounds.map(([o]) => o)),
    unit: 'requests per second',
    baseline: median(rounds.map(([, e]) => e)),
    ratio: median(ratios),
    spread: `ratio ${Math.min(...ratios).toFixed(2)} to ${Math.max(...ratios).toFixed(2)} over ${ROUNDS} rounds`,
  })}\n`,
);
