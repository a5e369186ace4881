import { useMutation } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Choice } from '../../kit/Field';
import { Refused } from '../../kit/Panel';
import { useDesk } from '../../session/desk';
import { type EventMap, type Preview, previewMap } from '../api';
import type { EventKind } from '../words';
import { MapEditor, PreviewEvents } from './MapEditor';

/** How a webhook's JSON is read: in our own shape, or by pointing at the fields of a sample. */
export function JsonEditor({
  kind,
  map,
  sample,
  onMap,
}: {
  kind: EventKind;
  map: EventMap | undefined;
  /** The last delivery, where there is one. */
  sample: string | undefined;
  onMap(map: EventMap | undefined): void;
}) {
  const { site } = useDesk();
  const [text, setText] = useState(sample ?? '');
  const [preview, setPreview] = useState<Preview>();
  const look = useMutation({
    mutationFn: (asked: { map?: EventMap | undefined }) =>
      previewMap(site.id, { eventKind: kind, sample: text, ...(asked.map ? { map: asked.map } : {}) }),
    onSuccess: (seen, asked) => {
      setPreview(seen);
      if (!asked.map) onMap(seen.map);
    },
  });
  const { mutate } = look;
  useEffect(() => {
    if (!text.trim() || map === undefined) return;
    const timer = setTimeout(() => mutate({ map: Object.keys(map.places).length > 0 ? map : undefined }), 300);
    return () => clearTimeout(timer);
  }, [text, map, mutate]);
  return (
    <div className="grid gap-3">
      <Choice
        legend="The JSON is"
        value={map === undefined ? 'cloud' : 'own'}
        choices={[
          ['cloud', 'CloudEvents, as the guide describes it'],
          ['own', 'of any shape: I point at its fields'],
        ]}
        onChoose={(v) => onMap(v === 'cloud' ? undefined : { kind, places: {}, fields: {}, currency: '' })}
      />
      {map !== undefined && (
        <>
          <label className="grid gap-1">
            <span className="font-semibold">A sample{sample && ': the last delivery'}</span>
            <textarea
              rows={6}
              spellCheck={false}
              className="font-mono text-[12.5px] leading-5 placeholder:text-soft"
              placeholder={'{ "order": { "id": 1, "item": "Ash-glaze mug" } }'}
              value={text}
              onChange={(e) => setText(e.currentTarget.value)}
            />
          </label>
          <Refused error={look.error} />
          {preview && (
            <>
              <MapEditor map={map} preview={preview} onMap={onMap} />
              <PreviewEvents preview={preview}>
                <p className="font-semibold">What comes of it</p>
              </PreviewEvents>
            </>
          )}
        </>
      )}
    </div>
  );
}
