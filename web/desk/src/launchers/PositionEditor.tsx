import { Choice, NumberField } from '../kit/Field';
import type { LauncherBrief } from './api';

type Look = LauncherBrief['look'];

const SIDES = [
  ['right', 'on the right'],
  ['left', 'on the left'],
] as const;

/** Where the button is, on desktops and on phones. */
export function PositionEditor({ look, onChange }: { look: Look; onChange(look: Partial<Look>): void }) {
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <div className="grid content-start gap-2">
        <Choice legend="At the bottom" value={look.side} choices={SIDES} onChoose={(side) => onChange({ side })} />
        <NumberField
          label="From the bottom"
          value={look.edgePx}
          min={0}
          max={400}
          after="pixels"
          onValue={(edgePx) => onChange({ edgePx })}
        />
        <NumberField
          label="From the side"
          value={look.sidePx}
          min={0}
          max={400}
          after="pixels"
          onValue={(sidePx) => onChange({ sidePx })}
        />
      </div>
      <div className="grid content-start gap-2">
        <Choice legend="On phones" value={look.phoneSide} choices={SIDES} onChoose={(phoneSide) => onChange({ phoneSide })} />
        <NumberField
          label="From the bottom"
          value={look.phoneEdgePx}
          min={0}
          max={400}
          after="pixels"
          onValue={(phoneEdgePx) => onChange({ phoneEdgePx })}
        />
        <p className="text-soft">It moves up by itself where the page keeps something in that corner.</p>
      </div>
    </div>
  );
}
