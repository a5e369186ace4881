import { plural } from '../kit/plural';
import type { Part } from './model';
import type { Brief } from './types';

type Ask = NonNullable<Brief['ask']>;

/** What a field asks for. */
export const FIELDS: Record<Ask['fields'][number]['kind'], string> = {
  email: 'an e-mail address',
  phone: 'a phone number',
  firstName: 'a first name',
  surname: 'a surname',
  choice: 'one of several',
  choices: 'some of several',
  text: 'their own words',
  number: 'a number',
  date: 'a date',
  consent: 'a box to tick',
};

/** A part of a prompt's face. */
export type Block = NonNullable<Ask['blocks']>[number];

/** How each is called. */
export const BLOCKS: Record<Block, string> = {
  picture: 'the picture',
  message: 'the message',
  fields: 'what it asks for',
  promise: 'the promise',
  button: 'the button',
  smallPrint: 'the small print',
};

/** Their order where nobody chose another. */
export const USUAL_BLOCKS = Object.keys(BLOCKS) as Block[];

/** Each part once, from above to below. */
export const faceOrder = ({ blocks = [] }: Ask): Block[] => [...new Set([...blocks, ...USUAL_BLOCKS])];

const orderWords = (ask: Ask) => {
  const order = faceOrder(ask);
  return order.join() === USUAL_BLOCKS.join() ? 'in the usual order' : `with ${join(order.map((b) => BLOCKS[b]))} in this order`;
};

const p = (key: string, words: string): Part => ({ key, words });

const join = (words: readonly string[]) => (words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`);

/** A field in the words of the sentence. */
const fieldWords = (field: Ask['fields'][number]) => {
  const label = field.words.find((w) => w.language === '')?.label;
  return field.kind === 'email' || field.kind === 'phone' || field.kind === 'firstName' || field.kind === 'surname'
    ? FIELDS[field.kind]
    : label
      ? `“${label}”`
      : FIELDS[field.kind];
};

/** "an e-mail address and, if they like, a first name; keep the campaign with it". */
export function askParts(ask: Ask): Part[] {
  const { fields, hidden } = ask;
  const needed = fields.filter((f) => f.required).map(fieldWords);
  const liked = fields.filter((f) => !f.required).map(fieldWords);
  const words = [needed.length > 0 && join(needed), liked.length > 0 && `${needed.length > 0 ? 'and, ' : ''}if they like, ${join(liked)}`];
  return [
    'Ask for ',
    p('ask.fields', words.filter(Boolean).join(' ') || 'nothing yet'),
    '; keep ',
    p('ask.hidden', hidden.length === 0 ? 'nothing besides' : join(hidden.map((h) => h.key || '…'))),
    ' with it; laid out ',
    p('ask.blocks', orderWords(ask)),
    '.',
  ];
}

/** "They agree to “One letter a month” by an unticked box." */
export function promiseParts({ words, ticks }: Ask): Part[] {
  const promise = words.find((w) => w.language === '')?.promise ?? '';
  return ['They agree to ', p('ask.promise', promise ? `“${promise}”` : 'nothing yet'), ticks ? ' by a box they tick.' : ' by the button.'];
}

const rewardWords = ({ kind, code }: Ask['reward']) =>
  kind === 'none' ? 'nothing but thanks' : kind === 'code' ? `the code ${code || '…'}` : kind === 'pool' ? 'a code of their own' : 'a file';

/** "Write to them to confirm; then say “Thank you”, give a code of their own and tag them letters." */
export function thenParts({ confirms, words, reward, tags, landing }: Ask): Part[] {
  const thanks = words.find((w) => w.language === '')?.thanks ?? '';
  return [
    p('ask.confirms', confirms ? `Write to them to confirm${landing ? `, and lead them to ${landing} then` : ''}` : 'Count them at once'),
    '; say ',
    p('ask.thanks', thanks ? `“${thanks}”` : 'nothing yet'),
    ', give ',
    p('ask.reward', rewardWords(reward)),
    confirms && reward.kind !== 'none' ? ' once they have' : '',
    ' and tag them ',
    p('ask.tags', tags.length === 0 ? 'with nothing' : tags.length > 3 ? plural(tags.length, 'tag') : join(tags)),
    '.',
  ];
}

/** What is compared to tell what a draft changed. */
export const ASK_VALUES: Record<string, (brief: Brief) => unknown> = {
  'ask.fields': (b) => [b.ask?.fields, b.ask?.words.map((w) => [w.language, w.button])],
  'ask.hidden': (b) => b.ask?.hidden,
  'ask.blocks': (b) => b.ask && faceOrder(b.ask),
  'ask.promise': (b) => [b.ask?.ticks, b.ask?.words.map((w) => [w.language, w.promise, w.smallPrint])],
  'ask.confirms': (b) => [b.ask?.confirms, b.ask?.landing, b.ask?.words.map((w) => [w.language, w.mail, w.confirmed])],
  'ask.thanks': (b) => [b.ask?.words.map((w) => [w.language, w.thanks, w.thanksDetail]), b.ask?.second],
  'ask.reward': (b) => b.ask?.reward,
  'ask.tags': (b) => b.ask?.tags,
};
