// Sends events with the published packages for CloudEvents and for Standard Webhooks, which know nothing of Outcry.
import { createRequire } from 'node:module';

const require = createRequire(new URL('../../web/package.json', import.meta.url));
const { CloudEvent, HTTP } = require('cloudevents');
const { Webhook } = require('standardwebhooks');

const [url, secret, tag] = process.argv.slice(2);
const event = new CloudEvent({
  id: `client-${tag}`,
  source: '/somebody/elses/shop',
  type: 'org.example.purchase',
  data: { customer: { name: 'Élodie Brun', email: `${tag}@post.example` }, product: { name: 'Client jar' }, amount: 12.5, currency: 'EUR' },
});
const { headers, body } = HTTP.structured(event);
const text = String(body);
const id = `msg_${tag}`;
const at = new Date();
const signature = new Webhook(secret).sign(id, at, text);
const signed = { ...headers, 'webhook-id': id, 'webhook-timestamp': String(Math.floor(at.getTime() / 1000)), 'webhook-signature': signature };
const results = [];
for (const sent of [signed, signed, { ...signed, 'webhook-signature': new Webhook(secret).sign(id, at, `${text} `) }]) {
  const answer = await fetch(url, { method: 'POST', headers: sent, body: text });
  results.push({ status: answer.status, type: answer.headers.get('content-type'), body: await answer.json() });
}
console.log(JSON.stringify(results));
