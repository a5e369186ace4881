import { AlertTriangle } from 'lucide-react';
import type { ReactNode } from 'react';
import { SelectField } from '../../kit/Field';
import { Said } from '../../kit/Said';
import { clockSeconds, day } from '../../kit/time';
import { useRowKeys } from '../../kit/useRowKeys';
import type { EventMap, Preview } from '../api';
import { MEANINGS, type Meaning } from '../words';
import { fieldName } from './fieldName';

/**
 * Says what stands where: each place of the data with an example, and beside it what it means.
 *
 * One place has one meaning; choosing a meaning takes it from the place that had it.
 */
export function MapEditor({ map, preview, onMap }: { map: EventMap; preview: Preview; onMap(map: EventMap): void }) {
  const choices = [
    ['', 'not taken'] as const,
    ...preview.meanings.map((m) => [m, MEANINGS[m]] as const),
    ['keep', 'a field of its own'] as const,
  ];
  function means(place: string): Meaning | 'keep' | '' {
    const found = Object.entries(map.places).find(([, at]) => at === place);
    if (found) return found[0] as Meaning;
    return Object.values(map.fields).includes(place) ? 'keep' : '';
  }
  function choose(place: string, meaning: Meaning | 'keep' | '') {
    const kept = Object.fromEntries(Object.entries(map.places).filter(([m, at]) => at !== place && m !== meaning));
    const fields = Object.fromEntries(Object.entries(map.fields).filter(([, at]) => at !== place));
    if (meaning === 'keep') fields[fieldName(place)] = place;
    else if (meaning) kept[meaning] = place;
    onMap({ ...map, places: kept, fields });
  }
  return (
    <div className="grid gap-2">
      <table className="w-full table-fixed">
        <thead>
          <tr className="border-b border-ink text-[12px] text-soft">
            <th scope="col" className="w-[58%] py-1 text-start font-medium">
              Stands there
            </th>
            <th scope="col" className="py-1 text-start font-medium">
              Means
            </th>
          </tr>
        </thead>
        <tbody>
          {preview.places.map((place) => (
            <tr key={place.pointer} className="border-b border-hair align-middle">
              <td className="py-1 pe-2">
                <span className="block overflow-hidden font-mono text-[12.5px] text-ellipsis whitespace-nowrap">{place.pointer}</span>
                <span className="block overflow-hidden text-[12px] leading-4 text-ellipsis whitespace-nowrap text-soft">
                  {place.sample || 'empty'}
                </span>
              </td>
              <td className="py-1">
                <SelectField
                  label={`${place.pointer} means`}
                  hideLabel
                  value={means(place.pointer)}
                  choices={choices}
                  onChoose={(m) => choose(place.pointer, m as Meaning | 'keep' | '')}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {preview.mapFault && preview.places.length > 0 && (
        <p className="flex gap-2 text-warn">
          <AlertTriangle className="mt-0.5 h-4 w-4 flex-none" aria-hidden="true" />
          {preview.mapFault}
        </p>
      )}
      {map.places.time && (
        <label className="flex items-center gap-2">
          A date like 03/04/2015 is
          <select
            value={map.dates ?? ''}
            onChange={(e) =>
              onMap({ ...map, dates: e.currentTarget.value === '' ? null : (e.currentTarget.value as 'dayFirst' | 'monthFirst') })
            }
          >
            <option value="">not in this data</option>
            <option value="dayFirst">3 April (day first)</option>
            <option value="monthFirst">March 4 (month first)</option>
          </select>
        </label>
      )}
      {map.places.amount && !map.places.currency && (
        <label className="flex items-center gap-2">
          Currency of the amounts
          <input
            className="w-20 uppercase"
            maxLength={3}
            value={map.currency}
            placeholder="GBP"
            onChange={(e) => onMap({ ...map, currency: e.currentTarget.value.toUpperCase() })}
          />
        </label>
      )}
    </div>
  );
}

/** What would come of the sample: as visitors would read it, or why it cannot be taken. */
export function PreviewEvents({ preview, children }: { preview: Preview; children?: ReactNode }) {
  const { keys } = useRowKeys(preview.events.length);
  return (
    <div className="grid gap-1" aria-live="polite">
      {children}
      <ul>
        {preview.events.map((event, place) => (
          <li key={keys[place]} className="border-t border-hair py-1.5">
            {event.field !== null ? (
              <span className="text-bad">
                {event.field && <code className="font-mono text-[12.5px]">{event.field}</code>} {event.because}
              </span>
            ) : (
              <>
                <Said spans={event.spans} />
                <span className="block text-[12px] leading-4 text-soft">
                  {event.at && `${day(event.at)}, ${clockSeconds(event.at)}`}
                  {event.state === 'held' && `, held: “${event.because}”`}
                  {event.state === 'ownTest' && ', a test'}
                </span>
              </>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
