import { describe, expect, it } from 'vitest';
import { blockWords, type Part, pluralForms, readSentence, writeSentence } from './language';

const KEPT = [
  'The kiln opens at nine',
  '**{{ name | default: someone }}** {{ from_place }} bought **{{ product | default: "a piece" }}**',
  '**{{ number }}** {{ number | plural: one: "person has", other: "people have" }} booked {{ period }}',
  'Only **{{ left }}** left of [{{ product }}](/shop)',
  '{{ from_place | replace: "from", "to" }} it goes',
  'One line\nand another',
  '*Small*, ++under++ and [**bold link**](https://pots.example/a)',
  String.raw`5 \* 3 \[not a link\] snake_case`,
  String.raw`\# no heading`,
  String.raw`1\. no list`,
  '{{ words | default: \'say "hello"\' }}',
];

describe('a sentence', () => {
  it.each(KEPT)('is kept as it was written: %s', (text) => {
    expect(writeSentence(readSentence(text))).toBe(text);
  });

  it('is read in blocks', () => {
    expect(readSentence('**{{ name | default: someone }}** bought {{ product | default: "a piece" }}')).toEqual([
      { is: 'token', name: 'name', otherwise: { token: 'someone' }, bold: true },
      { is: 'text', text: ' bought ' },
      { is: 'token', name: 'product', otherwise: { text: 'a piece' } },
    ]);
  });

  it('reads underscores and stars as CommonMark does', () => {
    expect(readSentence('__bold__ and _italic_ and snake_case_here')).toEqual([
      { is: 'text', text: 'bold', bold: true },
      { is: 'text', text: ' and ' },
      { is: 'text', text: 'italic', italic: true },
      { is: 'text', text: ' and snake_case_here' },
    ]);
    expect(readSentence('a * b * c')).toEqual([{ is: 'text', text: 'a * b * c' }]);
    expect(readSentence('an unclosed **start')).toEqual([{ is: 'text', text: 'an unclosed **start' }]);
  });

  it('sets the spaces of a bold stretch outside of it', () => {
    const parts: Part[] = [
      { is: 'text', text: 'see ' },
      { is: 'text', text: ' this ', bold: true },
      { is: 'text', text: 'now' },
    ];
    expect(writeSentence(parts)).toBe('see  **this** now');
    expect(
      writeSentence([
        { is: 'token', name: 'product', bold: true },
        { is: 'text', text: ' ', bold: true },
      ]),
    ).toBe('**{{ product }}** ');
    expect(
      writeSentence([
        { is: 'token', name: 'name', bold: true },
        { is: 'text', text: ' ', bold: true },
        { is: 'token', name: 'product', bold: true },
      ]),
    ).toBe('**{{ name }} {{ product }}**');
  });

  it('never lets what is typed become a token or a mark', () => {
    for (const typed of [
      '{{ name }}',
      '{% if %}',
      '**loud**',
      '[a](b)',
      '# head',
      '- item',
      '2) two',
      '> said',
      '`code`',
      'a ++b++',
      '<b>',
    ]) {
      const read = readSentence(writeSentence([{ is: 'text', text: typed }]));
      expect(read.every((p) => p.is === 'text' && !p.bold && !p.link && !p.underline)).toBe(true);
      expect(read.map((p) => (p.is === 'text' ? p.text : '')).join('')).toBe(typed.replace('{{', '{ {').replace('{%', '{ %'));
    }
  });

  it('made of anything is read as it was made', () => {
    // A small generator with a fixed seed: the same cases in every run.
    let seed = 7;
    const next = (below: number) => {
      seed = (seed * 1103515245 + 12345) % 2147483648;
      return seed % below;
    };
    const words = ['mug', 'a*b', 'x_y', 'größe', '#1', '[in]', '"quoted"', '1.', '+', 'wörd!', '陶器'];
    for (let run = 0; run < 2_000; run++) {
      const parts: Part[] = Array.from({ length: 1 + next(5) }, (_, i): Part => {
        const marks = {
          ...(next(3) === 0 && { bold: true as const }),
          ...(next(4) === 0 && { italic: true as const }),
          ...(next(5) === 0 && { underline: true as const }),
          ...(next(6) === 0 && { link: '/shop' }),
        };
        // Between two words a plain space, as people write.
        if (i % 2 === 1) return { is: 'text', text: ' ' };
        return next(3) === 0
          ? { is: 'token', name: 'product', otherwise: { text: 'a piece' }, ...marks }
          : { is: 'text', text: words[next(words.length)] ?? '', ...marks };
      });
      const text = writeSentence(parts);
      const again = readSentence(text);
      expect(writeSentence(again)).toBe(text);
      const plain = (ps: readonly Part[]) => ps.map((p) => (p.is === 'text' ? p.text : '◆')).join('');
      expect(plain(again)).toBe(plain(parts));
      const bold = (ps: readonly Part[]) =>
        ps
          .filter((p) => p.bold)
          .map((p) => (p.is === 'text' ? p.text.trim() : '◆'))
          .join('');
      expect(bold(again).replace(/\s/g, '')).toBe(bold(parts).replace(/\s/g, ''));
    }
  });
});

describe('blocks', () => {
  it('say what they are', () => {
    expect(blockWords({ is: 'token', name: 'first_name', otherwise: { text: 'Someone' } })).toBe('first name, else Someone');
    expect(blockWords({ is: 'token', name: 'from_place' })).toBe('from place');
    expect(blockWords({ is: 'plural', name: 'number', forms: { one: 'person', other: 'people' } })).toBe('person / people');
  });
});

describe('plural forms', () => {
  it('are those of the language', () => {
    expect(pluralForms('en').map((f) => f.name)).toEqual(['one', 'other']);
    expect(pluralForms('pl').map((f) => f.name)).toEqual(['one', 'few', 'many', 'other']);
    expect(pluralForms('ja').map((f) => f.name)).toEqual(['other']);
    expect(pluralForms('en')[0]?.examples).toEqual([1]);
    expect(pluralForms('not a tag').map((f) => f.name)).toEqual(['one', 'other']);
  });
});
