import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../kit/Button';
import { SelectField, TextField } from '../kit/Field';
import { LANGUAGES, languageName } from '../kit/languages';
import { Refused, Section } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { type OwnWords, ownWordsQuery, setOwnWords } from './api';

/** Where each built-in word is read. */
const PLACES: Record<string, string> = {
  close: 'The close mark, for screen readers',
  why: 'Asks why one sees this',
  whyEvents: 'Answers it, of what is drawn from events',
  whyNotice: 'Answers it, of a notice',
  copy: 'Beside a code',
  copied: 'After copying it',
  more: 'A button without words of its own',
  pause: 'Stops what turns over',
  play: 'Lets it go on',
  days: 'Days of a countdown',
  justNow: 'Under a minute ago',
  lastDay: 'Under a day ago, when times are rough',
  lastWeek: 'Under a week ago, when times are rough',
  recently: 'Longer ago, when times are rough',
  from: 'Before a place',
  many: 'Instead of a hidden number',
};

/** The words visitors read that no brief holds, in one language at a time. */
export function WordsSection({ mayEdit }: { mayEdit: boolean }) {
  const { site } = useDesk();
  const [language, setLanguage] = useState(site.language);
  const { data } = useQuery(ownWordsQuery(site.id, language));
  const choices = [...new Set([site.language, ...LANGUAGES])].map((tag) => [tag, languageName(tag)] as const);
  return (
    <Section title="Built-in words">
      <SelectField label="Language" value={language} choices={choices} onChoose={setLanguage} />
      {data && <Words key={language} words={data} mayEdit={mayEdit} />}
    </Section>
  );
}

function Words({ words, mayEdit }: { words: OwnWords; mayEdit: boolean }) {
  const { site } = useDesk();
  const queries = useQueryClient();
  const [own, setOwn] = useState(() => Object.fromEntries(words.words.map((w) => [w.key, w.own])));
  const save = useMutation({
    mutationFn: () => setOwnWords(site.id, words.language, own),
    onSuccess: (saved) => queries.setQueryData(ownWordsQuery(site.id, words.language).queryKey, saved),
  });
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <fieldset disabled={!mayEdit} className="grid gap-2">
        {words.words.map((word) => (
          <TextField
            key={word.key}
            label={PLACES[word.key] ?? word.key}
            lang={words.language}
            dir="auto"
            maxLength={200}
            placeholder={word.shipped}
            value={own[word.key] ?? ''}
            onChange={(e) => {
              const typed = e.currentTarget.value;
              setOwn((before) => ({ ...before, [word.key]: typed }));
            }}
          />
        ))}
      </fieldset>
      {mayEdit && (
        <div className="flex flex-wrap items-center gap-3">
          <Button type="submit" disabled={save.isPending}>
            Say it like this
          </Button>
          {save.isSuccess && !save.isPending && <span role="status">Said like this from now on.</span>}
        </div>
      )}
      <Refused error={save.error} />
    </form>
  );
}
