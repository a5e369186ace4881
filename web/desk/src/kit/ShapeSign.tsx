import type { Schema } from '../data/api';

/** What of a small screen each shape takes, as x, y, width, height in 18 by 13. */
const PLACES: Record<Schema<'Shape'>, readonly [number, number, number, number]> = {
  slip: [2, 7.5, 7.5, 3.5],
  ribbon: [1.5, 2, 15, 3],
  drawer: [10.5, 1.5, 6, 10],
  poster: [5, 3.5, 8, 6],
  curtain: [1.5, 1.5, 15, 10],
  inset: [4, 4.5, 10, 2.5],
  crawl: [1.5, 9.5, 15, 2],
  bubble: [10, 5.5, 6, 3.5],
};

/** A shape's place on a screen, as a small sign beside the callout's name. */
export function ShapeSign({ shape, className = '' }: { shape: Schema<'Shape'>; className?: string }) {
  const [x, y, width, height] = PLACES[shape];
  return (
    <svg viewBox="0 0 18 13" className={`inline h-[13px] w-[18px] flex-none ${className}`} aria-hidden="true">
      <rect x="0.75" y="0.75" width="16.5" height="11.5" rx="1" fill="#fff" stroke="#15181E" strokeWidth="1.25" />
      <rect x={x} y={y} width={width} height={height} fill="#15181E" />
    </svg>
  );
}
