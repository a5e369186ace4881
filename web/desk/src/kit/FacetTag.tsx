import { type Facet, markerOf } from './Phrase';

const WORDS: Record<Facet, string> = {
  say: 'Say',
  from: 'From',
  ask: 'Ask for',
  promise: 'Promise',
  after: 'Then',
  where: 'Where',
  who: 'Who',
  when: 'When',
  often: 'How often',
  look: 'Look',
};

/** A facet's word on its marker. */
export function FacetTag({ facet }: { facet: Facet }) {
  return (
    <span className="phrase flex-none font-semibold whitespace-nowrap" style={{ ...markerOf(facet), color: 'var(--deep)' }}>
      {WORDS[facet]}
    </span>
  );
}
