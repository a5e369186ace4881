import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { careQuery } from '../catalogue/care';
import { Button } from '../kit/Button';
import { CopyButton } from '../kit/Copy';
import { Choice, NumberField, TextField, Tick } from '../kit/Field';
import { Failed, Waiting } from '../kit/Notice';
import { Panel, Refused, Section } from '../kit/Panel';
import { plural } from '../kit/plural';
import { useDesk } from '../session/desk';
import { mayAct } from '../session/model';
import { type Care, setCare, suppliedWordsQuery, tryWords } from './api';

const NAMES = new Intl.DisplayNames(['en'], { type: 'language' });

/** A language's name; of a tag with extensions, which browsers name none, the main part's with the tag. */
function languageName(tag: string): string {
  const main = tag.split('-u-')[0] ?? tag;
  return `${NAMES.of(main) ?? main}${main === tag ? '' : ` (${tag})`}`;
}

/** What keeps private, false and ugly things from visitors: blocked words, the neutral noun, consent, how long things are kept. */
export function CarePanel({ onClose }: { onClose(): void }) {
  const { site, member } = useDesk();
  const care = useQuery(careQuery(site.id));
  return (
    <Panel label="Privacy and blocked words" title="Privacy and blocked words" wide onClose={onClose}>
      {care.isError && <Failed error={care.error} again={() => void care.refetch()} />}
      {care.isPending && <Waiting>Fetching what is set</Waiting>}
      {care.data && <Settings care={care.data} mayEdit={mayAct(member, 'govern')} />}
    </Panel>
  );
}

function Settings({ care, mayEdit }: { care: Care; mayEdit: boolean }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (change: Parameters<typeof setCare>[1]) => setCare(site.id, change),
    onSuccess: (saved) => {
      queries.setQueryData(careQuery(site.id).queryKey, saved);
      for (const key of ['events', 'event', 'install']) void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  return (
    <fieldset disabled={!mayEdit}>
      {!mayEdit && <p className="p-4 text-soft">Only owners change what stands here.</p>}
      <Words care={care} onWords={(words) => save.mutate({ words })} />
      <Section title="When there is no name">
        <TextField
          label={`The noun in ${languageName(care.language)}`}
          hint="Stands wherever no name is known or none may be read. Empty takes the supplied one."
          defaultValue={care.nouns[care.language] ?? ''}
          placeholder={care.noun}
          maxLength={40}
          onBlur={(e) => {
            const typed = e.currentTarget.value.trim();
            if (typed !== (care.nouns[care.language] ?? '')) save.mutate({ nouns: { ...care.nouns, [care.language]: typed } });
          }}
        />
      </Section>
      <Section title="Consent">
        <Choice
          legend="The snippet stores in the visitor's browser"
          value={care.consent}
          choices={[
            ['atOnce', 'from the first page view'],
            ['afterConsent', 'nothing before the page says that the visitor agreed'],
          ]}
          onChoose={(consent) => save.mutate({ consent })}
        />
        {care.consent === 'afterConsent' && (
          <div className="grid gap-1">
            <p className="text-[12px] leading-4 text-soft">Your consent tool says so with this line; false forgets everything at once.</p>
            <pre tabIndex={0} className="overflow-x-auto rounded border border-edge bg-paper p-2 font-mono text-[12.5px]">
              (window.outcry = window.outcry || []).push(['consent', true]);
            </pre>
          </div>
        )}
        <p className="text-[12px] leading-4 text-soft">
          A browser that sends Global Privacy Control is taken at its word either way: nothing is stored, and its events name nobody.
        </p>
      </Section>
      <Keeps care={care} onKeeps={(keeps) => save.mutate({ keeps })} />
      {care.identitySecret && (
        <Section title="Signing who a visitor is">
          <p className="text-[12px] leading-4 text-soft">
            Your server signs the visitor's id with HMAC-SHA-256 and this secret, in hex; the page hands both to outcry.identify.
          </p>
          <CopyButton text={care.identitySecret}>Copy the secret</CopyButton>
        </Section>
      )}
      <div className="p-4">
        <span role="status" className="text-good">
          {save.isSuccess && 'Saved.'}
        </span>
        <Refused error={save.error} />
      </div>
    </fieldset>
  );
}

function Words({ care, onWords }: { care: Care; onWords(words: Care['words']): void }) {
  const { site } = useDesk();
  const [language, setLanguage] = useState<string>();
  const supplied = useQuery({ ...suppliedWordsQuery(site.id), enabled: !!language });
  const [own, setOwn] = useState(care.words.added.join('\n'));
  const attempt = useMutation({ mutationFn: (text: string) => tryWords(site.id, text) });
  const { words } = care;
  const languages = Object.entries(care.suppliedWords).sort(([a], [b]) => languageName(a).localeCompare(languageName(b)));
  return (
    <Section title="Blocked words">
      <p className="text-[12px] leading-4 text-soft">
        An event with one of these waits for review. Case, accents, spacing and look-alike letters are seen through; a word inside another
        word does not count.
      </p>
      <details>
        <summary className="font-semibold">Supplied lists: {words.languages.map((l) => languageName(l)).join(', ') || 'none'}</summary>
        <ul className="mt-1 grid grid-cols-2 gap-x-3">
          {languages.map(([tag, count]) => (
            <li key={tag} className="flex items-center justify-between">
              <Tick
                checked={words.languages.includes(tag)}
                onTick={(on) => onWords({ ...words, languages: on ? [...words.languages, tag] : words.languages.filter((l) => l !== tag) })}
              >
                {languageName(tag)}
              </Tick>
              <Button
                kind="link"
                aria-label={`Words in ${languageName(tag)}`}
                onClick={() => setLanguage(language === tag ? undefined : tag)}
              >
                {count}
              </Button>
            </li>
          ))}
        </ul>
        {language && supplied.data && (
          <div
            className="mt-2 max-h-48 overflow-auto border border-hair p-2"
            tabIndex={0}
            role="group"
            aria-label={`Words in ${languageName(language)}`}
          >
            {supplied.data[language]?.map((word) => (
              <Tick
                key={word}
                checked={!words.takenOut.includes(word)}
                onTick={(on) => onWords({ ...words, takenOut: on ? words.takenOut.filter((w) => w !== word) : [...words.takenOut, word] })}
              >
                {word}
              </Tick>
            ))}
          </div>
        )}
      </details>
      <label className="grid gap-1 font-semibold">
        Your own, one a line
        <textarea
          rows={3}
          className="font-normal"
          value={own}
          onChange={(e) => setOwn(e.currentTarget.value)}
          onBlur={() => {
            const added = own
              .split('\n')
              .map((w) => w.trim())
              .filter(Boolean);
            if (added.join('\n') !== words.added.join('\n')) onWords({ ...words, added });
          }}
        />
      </label>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          attempt.mutate(String(new FormData(event.currentTarget).get('text')));
        }}
      >
        <label className="grid min-w-0 flex-1 gap-1">
          Try a text
          <input name="text" required autoComplete="off" />
        </label>
        <Button type="submit">Try</Button>
      </form>
      {care.stillToScan !== null && (
        <p role="status" className="text-soft">
          Looking through the ledger for words that are new: {plural(care.stillToScan, 'event')} to go.
        </p>
      )}
      <p role="status">{attempt.data && (attempt.data.found === null ? 'It may pass.' : `It is held: found “${attempt.data.found}”.`)}</p>
    </Section>
  );
}

const KEPT = [
  ['eventDays', 'Events', 3650],
  ['visitDays', 'Page views and what was shown', 400],
  ['visitorDays', 'Visitors your pages told of', 730],
  ['deliveryDays', 'Bodies of webhook deliveries', 30],
] as const;

function Keeps({ care, onKeeps }: { care: Care; onKeeps(keeps: Care['keeps']): void }) {
  const [keeps, setKeeps] = useState(care.keeps);
  const changed = JSON.stringify(keeps) !== JSON.stringify(care.keeps);
  return (
    <Section title="How long it is kept">
      {KEPT.map(([field, words, most]) => (
        <NumberField
          key={field}
          label={words}
          min={field === 'deliveryDays' ? 0 : 1}
          max={most}
          value={keeps[field]}
          onValue={(days) => setKeeps({ ...keeps, [field]: days })}
          after="days"
        />
      ))}
      {changed && (
        <p className="flex flex-wrap items-center gap-2">
          <Button onClick={() => onKeeps(keeps)}>Keep it so</Button>
          <span className="text-[12px] text-soft">What is older is deleted tonight, for good.</span>
        </p>
      )}
    </Section>
  );
}
