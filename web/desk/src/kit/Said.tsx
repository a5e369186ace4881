import type { Schema } from '../data/api';

/** A message as visitors read it, run by run; never as markup. */
export function Said({ spans }: { spans: Schema<'Span'>[] }) {
  return (
    <>
      {spans.map((span, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: only drawn, in a fixed order, and holds nothing of its own.
        <Run key={`${place}:${span.text}`} span={span} />
      ))}
    </>
  );
}

function Run({ span }: { span: Schema<'Span'> }) {
  const Element = span.bold ? 'strong' : span.italic ? 'em' : 'span';
  return (
    <Element
      className={`${span.bold ? 'font-semibold' : ''} ${span.italic ? 'italic' : ''} ${span.link || span.underlined ? 'underline' : ''}`}
    >
      {span.text}
    </Element>
  );
}
