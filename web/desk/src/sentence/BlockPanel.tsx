import { Choice, TextField } from '../kit/Field';
import { type Part, pluralForms, tokenWords } from './language';

type BlockPart = Exclude<Part, { is: 'text' }>;

/** What can be set of the block that is chosen: what stands there when it is empty, or its forms. */
export function BlockPanel({
  part,
  language,
  tokens,
  onChange,
}: {
  part: BlockPart;
  language: string;
  tokens: readonly string[];
  onChange(part: BlockPart): void;
}) {
  return (
    <div role="group" aria-label="The chosen block" className="grid gap-2 rounded border border-hair bg-sheet2 p-2">
      {part.is === 'token' && <Fallback part={part} tokens={tokens} onChange={onChange} />}
      {part.is === 'plural' && <Forms part={part} language={language} onChange={onChange} />}
      {part.is === 'raw' && <p className="text-soft">Written by hand. Change it under “Text as kept”.</p>}
    </div>
  );
}

type Token = Extract<Part, { is: 'token' }>;

function Fallback({ part, tokens, onChange }: { part: Token; tokens: readonly string[]; onChange(part: BlockPart): void }) {
  const { otherwise, ...bare } = part;
  const neutral = part.name === 'name' || part.name === 'first_name' || part.name === 'who';
  const is = !otherwise ? 'nothing' : 'token' in otherwise ? 'token' : 'text';
  const other = otherwise && 'token' in otherwise ? otherwise.token : 'someone';
  return (
    <>
      <Choice
        legend={`Where ${tokenWords(part.name)} is empty, read`}
        value={is}
        choices={[
          ['nothing', 'nothing: the words around it close up'],
          ['text', 'words of your own'],
          ...(neutral || is === 'token' ? [['token', `the site's word for ${tokenWords(other)}`] as const] : []),
        ]}
        onChoose={(to) =>
          onChange(
            to === 'nothing'
              ? bare
              : { ...bare, otherwise: to === 'token' ? { token: other } : { text: is === 'text' ? '' : 'something' } },
          )
        }
      />
      {otherwise && 'text' in otherwise && (
        <TextField label="Words" value={otherwise.text} maxLength={80} onText={(text) => onChange({ ...bare, otherwise: { text } })} />
      )}
      {tokens.length > 0 && !tokens.includes(part.name) && (
        <p className="text-[12px] leading-4 text-warn">The chosen sources have no field “{tokenWords(part.name)}”.</p>
      )}
    </>
  );
}

type Plural = Extract<Part, { is: 'plural' }>;

function Forms({ part, language, onChange }: { part: Plural; language: string; onChange(part: BlockPart): void }) {
  return (
    <fieldset className="grid gap-1">
      <legend className="mb-1 font-semibold">The word after {tokenWords(part.name)}</legend>
      <div className="flex flex-wrap gap-2">
        {pluralForms(language).map(({ name, examples }) => (
          <span key={name} className="min-w-28 flex-1">
            <TextField
              label={examples.length > 0 ? `after ${examples.join(', ')}` : 'in fractions'}
              value={part.forms[name] ?? ''}
              placeholder={part.forms.other ?? ''}
              maxLength={60}
              onText={(words) => onChange({ ...part, forms: { ...part.forms, [name]: words } })}
            />
          </span>
        ))}
      </div>
    </fieldset>
  );
}
