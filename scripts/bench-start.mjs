// How long after its start the desk, as published, is ready, with the demo's data and nothing else running, beside a bare host of the same
// runtime: each round starts both, asks until they answer, and ends them again.
import { spawn } from 'node:child_process';
import { appendFileSync } from 'node:fs';

const [file, root, desk, bench] = process.argv.slice(2);
const ROUNDS = 7;
const median = (values) => [...values].sort((a, b) => a - b)[values.length >> 1];
const rest = (ms) => new Promise((done) => setTimeout(done, ms));

async function start(program, args, url, isThere) {
  const began = performance.now();
  const process_ = spawn(program, args, { stdio: 'ignore' });
  const gone = new Promise((done) => process_.on('exit', done));
  try {
    for (;;) {
      if (performance.now() - began > 60_000) throw new Error(`${program} did not come up.`);
      const ready = await fetch(url).then(isThere, () => false);
      if (ready) return performance.now() - began;
      await rest(10);
    }
  } finally {
    process_.kill('SIGTERM');
    await gone;
  }
}

const ours = () => start(desk, ['--urls', 'http://127.0.0.1:5096', '--contentRoot', `${root}/src/Outcry.Server`], 'http://127.0.0.1:5096/health/ready', (answer) => answer.ok);
const bare = () => start('dotnet', [bench, 'empty', 'http://127.0.0.1:5097', '100'], 'http://127.0.0.1:5097/', () => true);
await ours();
await bare();
const rounds = [];
for (let i = 0; i < ROUNDS; i++) rounds.push([await ours(), await bare()]);
const times = rounds.map(([o]) => o);
appendFileSync(
  file,
  `${JSON.stringify({
    name: 'start-to-ready',
    value: median(times) / 1000,
    unit: 'seconds',
    baseline: median(rounds.map(([, b]) => b)) / 1000,
    ratio: median(rounds.map(([o, b]) => o / b)),
    spread: `${(Math.min(...times) / 1000).toFixed(2)} to ${(Math.max(...times) / 1000).toFixed(2)} s over ${ROUNDS} starts`,
  })}\n`,
);
