// Writes the supplied pictures: still ones drawn from an icon set (lucide, ISC licence), and moving ones of our own that
// stand still for whoever asks for less motion. Run by hand after npm install: node scripts/make-pictures.mjs
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';

const ICONS = 'web/node_modules/lucide-react/dist/esm/icons';
const OUT = 'web/desk/public/pictures';
mkdirSync(OUT, { recursive: true });

/** Ground and line of each tint: at least 4.5:1 between them. */
const TINTS = { clay: ['#f3e1d8', '#8a3216'], sage: ['#e0ebe2', '#245a3a'], sky: ['#dce9f7', '#184f8c'], sun: ['#fdf0cf', '#6b4a00'], ink: ['#15181e', '#ffffff'] };

// Name, icon, tint, and the words it is found by besides its name.
const STILL = [
  ['Gift', 'gift', 'clay', 'present free offer'],
  ['Shopping bag', 'shopping-bag', 'sage', 'buy purchase order shop'],
  ['Basket', 'shopping-basket', 'sage', 'cart buy order'],
  ['Cart', 'shopping-cart', 'sage', 'basket buy order'],
  ['Parcel', 'package', 'sky', 'delivery shipping post order'],
  ['Lorry', 'truck', 'sky', 'delivery shipping free'],
  ['Percent', 'badge-percent', 'clay', 'discount sale offer code'],
  ['Price tag', 'tag', 'clay', 'discount sale offer'],
  ['Ticket', 'ticket', 'sun', 'code voucher event booking'],
  ['Calendar', 'calendar-days', 'sky', 'date booking workshop event'],
  ['Calendar ticked', 'calendar-check', 'sage', 'booked date workshop'],
  ['Clock', 'clock', 'sun', 'time hours soon countdown'],
  ['Hourglass', 'hourglass', 'sun', 'time left soon last'],
  ['Alarm', 'alarm-clock', 'sun', 'time soon reminder'],
  ['Bell', 'bell', 'sun', 'news notice alert'],
  ['Horn', 'megaphone', 'sun', 'news announcement notice'],
  ['Letter', 'mail', 'sky', 'newsletter email sign-up'],
  ['Open letter', 'mail-open', 'sky', 'newsletter email'],
  ['Paper plane', 'send', 'sky', 'sent message newsletter'],
  ['Speech', 'message-circle', 'sky', 'chat question talk'],
  ['Question', 'circle-help', 'sky', 'help ask'],
  ['Phone', 'phone', 'sage', 'call contact'],
  ['People', 'users', 'sage', 'visitors members here team'],
  ['Person', 'user-round', 'sage', 'visitor member customer'],
  ['New person', 'user-plus', 'sage', 'joined signed up member'],
  ['Eye', 'eye', 'sky', 'looking viewed watching'],
  ['Star', 'star', 'sun', 'review rating favourite'],
  ['Stars', 'sparkles', 'sun', 'new special'],
  ['Heart', 'heart', 'clay', 'love favourite like'],
  ['Thumb', 'thumbs-up', 'sage', 'like good review'],
  ['Quotation', 'quote', 'clay', 'review words said'],
  ['Award', 'award', 'sun', 'prize best rating'],
  ['Cup', 'trophy', 'sun', 'prize best winner'],
  ['Shield', 'shield-check', 'sage', 'safe secure warranty'],
  ['Lock', 'lock', 'ink', 'safe secure payment'],
  ['Card', 'credit-card', 'ink', 'payment paid buy'],
  ['Tick', 'circle-check', 'sage', 'done good confirmed'],
  ['Flame', 'flame', 'clay', 'kiln fire hot popular'],
  ['Kindling', 'flame-kindling', 'clay', 'kiln fire hot'],
  ['Mug', 'coffee', 'clay', 'pottery cup tea'],
  ['Bowl', 'soup', 'clay', 'pottery dish'],
  ['Vase', 'amphora', 'clay', 'pottery pot jug'],
  ['Brush', 'paintbrush', 'clay', 'glaze paint craft'],
  ['Palette', 'palette', 'clay', 'colour glaze craft'],
  ['Hand', 'hand', 'clay', 'made craft hello wave'],
  ['Leaf', 'leaf', 'sage', 'green natural autumn'],
  ['Sprout', 'sprout', 'sage', 'new spring growing'],
  ['Sun', 'sun', 'sun', 'summer day open'],
  ['Snowflake', 'snowflake', 'sky', 'winter season'],
  ['Tree', 'tree-pine', 'sage', 'winter season'],
  ['Place', 'map-pin', 'clay', 'where city visit'],
  ['Shop', 'store', 'sage', 'visit open studio'],
  ['House', 'house', 'sage', 'home studio'],
  ['Trend', 'trending-up', 'sage', 'popular more growing'],
  ['Last ones', 'package-minus', 'clay', 'stock few left'],
  ['Empty box', 'package-open', 'clay', 'stock gone few left'],
  ['Book', 'book-open', 'sky', 'journal read guide'],
  ['Camera', 'camera', 'ink', 'picture photo'],
  ['Play', 'circle-play', 'ink', 'video film watch'],
  ['Music', 'music', 'sky', 'sound play'],
];

const escape = (text) => String(text).replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('<', '&lt;');
const drawing = (icon) => {
  const file = readFileSync(`${ICONS}/${icon}.mjs`, 'utf8');
  // An icon that was renamed is only a pointer to the new one.
  const renamed = /from '\.\/([a-z0-9-]+)\.mjs'/.exec(file);
  if (renamed) return drawing(renamed[1]);
  const { node } = new Function(`return ${/const __iconData = (\{[\s\S]*?\n\});/.exec(file)[1]}`)();
  return node.map(([tag, attributes]) => `<${tag} ${Object.entries(attributes).filter(([key]) => key !== 'key').map(([key, value]) => `${key}="${escape(value)}"`).join(' ')}/>`).join('');
};
const tile = ([ground, line], content, style = '') =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="88" height="88" viewBox="0 0 88 88">${style && `<style>${style}@media(prefers-reduced-motion:reduce){*{animation:none!important}}</style>`}<rect width="88" height="88" fill="${ground}"/><g fill="none" stroke="${line}" stroke-width="2" stroke-linecap="round" stroke-linejoin="round">${content}</g></svg>\n`;
const large = (content) => `<g transform="translate(20 20) scale(2)">${content}</g>`;

const index = [];
const slug = (name) => name.toLowerCase().replaceAll(' ', '-');
const put = (name, words, isMoving, svg) => {
  const file = `${slug(name)}.svg`;
  writeFileSync(`${OUT}/${file}`, svg);
  index.push({ name, file, words: [name.toLowerCase(), ...words.split(' ')], isMoving });
};
for (const [name, icon, tint, words] of STILL) put(name, words, false, tile(TINTS[tint], large(drawing(icon))));

// Moving ones: calm, a few seconds a turn.
const spinning = '@keyframes m{to{transform:rotate(360deg)}}';
put('Turning wheel', 'pottery throwing wheel craft workshop', true, tile(TINTS.clay, '<ellipse cx="44" cy="62" rx="26" ry="8"/><path d="M34 60c-6-14-2-24 10-26 12 2 16 12 10 26"/><path d="M40 34c0-4 8-4 8 0"/><g class="d"><path d="M22 62l6 2M60 66l6-3"/></g>', '@keyframes m{0%{stroke-dashoffset:0}to{stroke-dashoffset:-36}}ellipse{stroke-dasharray:12 6;animation:m 2.4s linear infinite}'));
put('Kiln fire', 'flame hot firing', true, tile(TINTS.clay, `<rect x="20" y="18" width="48" height="54" rx="4"/><path d="M20 32h48"/><path class="f" d="M44 66c-8 0-12-6-10-12 2 3 4 3 4 0 0-5 3-9 8-12-1 5 8 8 8 16 0 5-4 8-10 8z"/>`, '@keyframes m{0%,to{transform:scaleY(1)}50%{transform:scaleY(.86)}}.f{transform-origin:44px 66px;animation:m 1.6s ease-in-out infinite}'));
put('Ringing bell', 'news notice alert', true, tile(TINTS.sun, `<g class="b">${large(drawing('bell'))}</g>`, '@keyframes m{0%,60%,to{transform:rotate(0)}70%,90%{transform:rotate(9deg)}80%{transform:rotate(-9deg)}}.b{transform-origin:44px 24px;animation:m 3s ease-in-out infinite}'));
put('Beating heart', 'love like favourite', true, tile(TINTS.clay, `<g class="h">${large(drawing('heart'))}</g>`, '@keyframes m{0%,40%,to{transform:scale(1)}20%{transform:scale(1.1)}}.h{transform-origin:44px 46px;animation:m 2.2s ease-in-out infinite}'));
put('Passing lorry', 'delivery shipping free', true, tile(TINTS.sky, `<g class="l">${large(drawing('truck'))}</g><path class="r" d="M8 76h72"/>`, '@keyframes m{0%,to{transform:translateY(0)}50%{transform:translateY(-2px)}}@keyframes r{to{stroke-dashoffset:-20}}.l{animation:m .9s ease-in-out infinite}.r{stroke-dasharray:12 8;animation:r 1.2s linear infinite}'));
put('Running clock', 'time soon countdown left', true, tile(TINTS.sun, '<circle cx="44" cy="44" r="24"/><path d="M44 44v-9"/><path class="c" d="M44 44V28"/>', `${spinning}.c{transform-origin:44px 44px;animation:m 6s linear infinite}`));
put('Twinkling stars', 'new special sparkles', true, tile(TINTS.ink, large(drawing('sparkles')), '@keyframes m{0%,to{opacity:1}50%{opacity:.45}}g g *{animation:m 2.4s ease-in-out infinite}g g *:nth-child(2n){animation-delay:1.2s}'));
put('Flying letter', 'newsletter email sent', true, tile(TINTS.sky, `<g class="s">${large(drawing('send'))}</g>`, '@keyframes m{0%,to{transform:translate(0,0)}50%{transform:translate(3px,-3px)}}.s{animation:m 2.2s ease-in-out infinite}'));

writeFileSync(`${OUT}/index.json`, `${JSON.stringify(index, null, 1)}\n`);
console.log(`${index.length} pictures`);
