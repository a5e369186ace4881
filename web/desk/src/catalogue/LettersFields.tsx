import type { Schema } from '../data/api';
import { Choice, NumberField } from '../kit/Field';

interface Letters {
  typeface: Schema<'Typeface'>;
  cornerPx: number;
}

/** In which letters something is set, and how round its corners are. */
export function LettersFields({ look, onChange }: { look: Letters; onChange(change: Partial<Letters>): void }) {
  return (
    <div className="grid gap-3">
      <Choice
        legend="Letters"
        value={look.typeface}
        choices={[
          ['page', 'the page’s own'],
          ['sans', 'plain, as the reader’s device has them'],
          ['serif', 'with serifs'],
          ['mono', 'all of one width'],
        ]}
        onChoose={(typeface) => onChange({ typeface })}
      />
      <NumberField
        label="Corners"
        after="pixels round; 0 is square"
        min={0}
        max={24}
        value={look.cornerPx}
        onValue={(cornerPx) => onChange({ cornerPx })}
      />
    </div>
  );
}
