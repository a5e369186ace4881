// Writes the request that is asked over and over, with a passport of the desk's own; prints the length of its answer in bytes.
import { writeFileSync } from 'node:fs';

const [url, file] = process.argv.slice(2);
const ask = async (passport) => {
  const body = JSON.stringify({ site: 'bench', page: 'http://pots.test/group-0/mug', width: 1280, passport, log: [] });
  const answer = await fetch(url, { method: 'POST', body, headers: { 'content-type': 'application/json', origin: 'http://pots.test' } });
  if (!answer.ok) throw new Error(`${url} answered ${answer.status}`);
  return { body, text: await answer.text() };
};
const { passport } = JSON.parse((await ask()).text);
const { body, text } = await ask(passport);
writeFileSync(file, `wrk.method = "POST"\nwrk.headers["content-type"] = "application/json"\nwrk.headers["origin"] = "http://pots.test"\nwrk.headers["user-agent"] = "Mozilla/5.0 (X11; Linux x86_64) Chrome/156.0.0.0 Safari/537.36"\nwrk.body = '${body}'\n`);
console.log(Buffer.byteLength(text));
