import { useMutation, useQuery } from '@tanstack/react-query';
import { rewardsQuery } from '../catalogue/api';
import { PictureChoice } from '../catalogue/PictureChoice';
import { say } from '../data/toasts';
import { Button } from '../kit/Button';
import { Choice, SelectField, TextField, Tick } from '../kit/Field';
import { ListField } from '../kit/ListField';
import { languageName } from '../kit/languages';
import { Refused } from '../kit/Panel';
import { useDesk } from '../session/desk';
import { sendTestConfirm } from './api';
import { type Ask, type Words, withWords, wordsOf } from './askWords';
import { ColoursEditor } from './SmallEditors';
import type { Brief } from './types';

type Change = (ask: Ask) => void;

/** Texts of the prompt, each in every language it speaks. */
function Texts({
  ask,
  languages,
  onChange,
  texts,
}: {
  ask: Ask;
  languages: readonly string[];
  onChange: Change;
  texts: readonly (readonly [keyof Omit<Words, 'language'>, label: string, most: number, hint: string])[];
}) {
  const { site } = useDesk();
  return (
    <>
      {['', ...languages].map((language) => (
        <fieldset key={language} className="grid gap-2">
          {languages.length > 0 && <legend className="text-[12px] text-soft">{languageName(language || site.language)}</legend>}
          {texts.map(([part, label, most, hint]) => (
            <label key={part} className="grid gap-1">
              <span className="font-semibold">{label}</span>
              <textarea
                rows={most > 200 ? 3 : 2}
                maxLength={most}
                dir="auto"
                className="w-full"
                value={wordsOf(ask, language)[part] ?? ''}
                onChange={(e) => onChange(withWords(ask, language, { [part]: e.currentTarget.value }))}
              />
              {hint && <span className="text-[12px] leading-4 text-soft">{hint}</span>}
            </label>
          ))}
        </fieldset>
      ))}
    </>
  );
}

/** What they agree to, word for word, and how. */
export function PromiseEditor({ ask, languages, onChange }: { ask: Ask; languages: readonly string[]; onChange: Change }) {
  return (
    <div className="grid gap-3">
      <Texts
        ask={ask}
        languages={languages}
        onChange={onChange}
        texts={[['promise', 'They agree to', 500, 'Kept with every yes, word for word. Other words are another promise.']]}
      />
      <Choice
        legend="How they agree"
        value={ask.ticks ? 'tick' : 'press'}
        choices={[
          ['tick', 'by a box they tick, which is never ticked beforehand'],
          ['press', 'by the button under the words'],
        ]}
        onChoose={(how) => onChange({ ...ask, ticks: how === 'tick' })}
      />
      <Texts ask={ask} languages={languages} onChange={onChange} texts={[['smallPrint', 'Small print under the button', 500, '']]} />
    </div>
  );
}

/** Whether an address is confirmed by mail, and in which words. */
export function ConfirmEditor({ ask, languages, onChange }: { ask: Ask; languages: readonly string[]; onChange: Change }) {
  return (
    <div className="grid gap-3">
      <Tick checked={ask.confirms} onTick={(confirms) => onChange({ ...ask, confirms })}>
        Write to them first, and count the address once they press the button in that mail
      </Tick>
      {ask.confirms && (
        <>
          <Texts
            ask={ask}
            languages={languages}
            onChange={onChange}
            texts={[
              ['mail', 'What the mail says', 600, 'Above its one button; empty for the built-in words.'],
              ...(ask.landing
                ? []
                : ([['confirmed', 'What the page behind it says', 200, 'Once they have pressed; empty for the built-in words.']] as const)),
            ]}
          />
          <TextField
            label="Or lead them to a page of yours"
            placeholder="/thanks"
            hint="A path, or an address on a host of this site. What they get comes by mail then."
            value={ask.landing ?? ''}
            maxLength={2048}
            onText={(landing) => onChange({ ...ask, landing })}
          />
          <SendConfirmToMe ask={ask} languages={languages} />
        </>
      )}
    </div>
  );
}

/** The mail that asks to confirm, as it would come, sent to oneself. */
function SendConfirmToMe({ ask, languages }: { ask: Ask; languages: readonly string[] }) {
  const { site } = useDesk();
  const send = useMutation({
    mutationFn: (language: string) => sendTestConfirm(site.id, ask, language),
    onSuccess: ({ to }) => say(`It is on its way to ${to}.`),
  });
  return (
    <p className="flex flex-wrap gap-3">
      {['', ...languages].map((language) => (
        <Button key={language} disabled={send.isPending} onClick={() => send.mutate(language)}>
          Send it to me{languages.length > 0 && ` in ${languageName(language || site.language)}`}
        </Button>
      ))}
      <Refused error={send.error} />
    </p>
  );
}

/** The face after a yes: its words, and what it has otherwise than the one that asks. */
export function ThanksEditor({
  ask,
  languages,
  look,
  onChange,
}: {
  ask: Ask;
  languages: readonly string[];
  look: Brief['look'];
  onChange: Change;
}) {
  const second = ask.second ?? SAME;
  const put = (change: Partial<typeof second>) => onChange({ ...ask, second: { ...second, ...change } });
  const hasOwn = second.band + second.ground !== '';
  return (
    <div className="grid gap-3">
      <Texts
        ask={ask}
        languages={languages}
        onChange={onChange}
        texts={[
          ['thanks', 'Thanks', 200, 'The stage shows it beside the face that asks.'],
          ['thanksDetail', 'Under it', 500, ''],
        ]}
      />
      <Tick checked={hasOwn} onTick={(own) => put(own ? { band: look.band, ground: look.ground } : { band: '', ground: '' })}>
        In other colours than before
      </Tick>
      {hasOwn && <ColoursEditor look={{ band: second.band || look.band, ground: second.ground || look.ground }} onChange={put} />}
      <details open={second.picture !== ''}>
        <summary className="cursor-pointer font-semibold">A picture above the thanks</summary>
        <div className="mt-2 grid gap-2">
          <PictureChoice address={second.picture} onChoose={(picture) => put({ picture })} />
          {second.picture && <Button onClick={() => put({ picture: '' })}>No picture</Button>}
        </div>
      </details>
    </div>
  );
}

const SAME = { picture: '', band: '', ground: '' };

/** What is given. */
export function RewardEditor({ ask, onChange }: { ask: Ask; onChange: Change }) {
  const { site } = useDesk();
  const { data } = useQuery(rewardsQuery(site.id));
  const { reward } = ask;
  const put = (change: Partial<Ask['reward']>) => onChange({ ...ask, reward: { ...reward, ...change } });
  return (
    <div className="grid gap-3">
      <Choice
        legend="For a yes they get"
        value={reward.kind}
        choices={[
          ['none', 'thanks'],
          ['code', 'one code, the same for all'],
          ['pool', 'a code of their own, out of a pool'],
          ['file', 'a file'],
        ]}
        onChoose={(kind) => put({ kind, code: '', sourceId: null })}
      />
      {reward.kind === 'code' && <TextField label="Code" value={reward.code} maxLength={40} onText={(code) => put({ code })} />}
      {reward.kind === 'pool' && (
        <>
          <SelectField
            label="Pool"
            value={reward.sourceId ?? ''}
            choices={[['', 'choose a pool'], ...(data?.pools ?? []).map((p) => [p.id, `${p.name}: ${p.left} left`] as const)]}
            onChoose={(id) => put({ sourceId: id || null })}
          />
          <Choice
            legend="Once the pool is empty"
            value={reward.awayWhenEmpty ? 'away' : 'thanks'}
            choices={[
              ['away', 'it stays away'],
              ['thanks', 'it goes on asking, and gives no code'],
            ]}
            onChoose={(then) => put({ awayWhenEmpty: then === 'away' })}
          />
        </>
      )}
      {reward.kind === 'file' && (
        <SelectField
          label="File"
          value={reward.sourceId ?? ''}
          choices={[['', 'choose a file'], ...(data?.files ?? []).map((f) => [f.id, f.name] as const)]}
          onChoose={(id) => put({ sourceId: id || null })}
        />
      )}
      {(reward.kind === 'pool' || reward.kind === 'file') && (
        <p className="text-[12px] text-soft">Pools and files are kept under Leads, Rewards.</p>
      )}
      <p className="text-[12px] text-soft">
        {ask.confirms
          ? 'Theirs once they have confirmed: on the page behind the mail, and in a mail of its own.'
          : 'Theirs at once, on the page.'}
      </p>
    </div>
  );
}

/** Marks that the lead gets. */
export function TagsEditor({ ask, onChange }: { ask: Ask; onChange: Change }) {
  return <ListField label="Tags" hint="With commas between" values={ask.tags} onValues={(tags) => onChange({ ...ask, tags })} />;
}
