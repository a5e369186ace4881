import { mergeAttributes, Node } from '@tiptap/core';
import { Bold } from '@tiptap/extension-bold';
import { Document } from '@tiptap/extension-document';
import { Italic } from '@tiptap/extension-italic';
import { Link } from '@tiptap/extension-link';
import { Paragraph } from '@tiptap/extension-paragraph';
import { Text } from '@tiptap/extension-text';
import { Underline } from '@tiptap/extension-underline';
import { NodeSelection } from '@tiptap/pm/state';
import { type Editor, EditorContent, useEditor, useEditorState } from '@tiptap/react';
import { Bold as BoldIcon, Italic as ItalicIcon, Link2, Plus, Underline as UnderlineIcon } from 'lucide-react';
import { type ReactNode, useEffect, useId, useRef, useState } from 'react';
import { BlockPanel } from './BlockPanel';
import { documentOf, messageOf } from './document';
import { blockWords, lengthOf, type Part, readSentence, writeSentence } from './language';
import { startPart, TokenMenu } from './TokenMenu';
import { Warned, type Warning, warn } from './warned';

const NO_WARNINGS: readonly Warning[] = [];

type BlockPart = Exclude<Part, { is: 'text' }>;

/** A token in the sentence: moved and removed whole. */
const Block = Node.create({
  name: 'token',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  draggable: true,
  addAttributes() {
    return { part: { default: undefined, rendered: false } };
  },
  parseHTML() {
    return [
      {
        tag: 'span[data-block]',
        getAttrs: (element) => {
          const [part] = readSentence(element.getAttribute('data-block') ?? '');
          return part && part.is !== 'text' ? { part } : false;
        },
      },
    ];
  },
  renderHTML({ node, HTMLAttributes }) {
    const part = node.attrs.part as BlockPart;
    return [
      'span',
      mergeAttributes(HTMLAttributes, {
        'data-block': messageOf({ content: [{ content: [{ type: 'token', attrs: { part } }] }] }),
        class: 'sentence-block',
      }),
      blockWords(part),
    ];
  },
});

/** A sentence of one paragraph per line; where only one line is wanted Enter does nothing. */
const OneLine = Document.extend({ content: 'paragraph' });

/**
 * The editor of words that a visitor reads: it shows the sentence as it reads, its tokens as blocks.
 *
 * What is kept is the message with its Liquid tokens and Markdown; an undo or a colleague's change is shown at once.
 */
export function SentenceEditor({
  label,
  value,
  language,
  tokens,
  examples,
  most = 500,
  oneLine = false,
  direction = 'auto',
  isFirst = false,
  warnings = NO_WARNINGS,
  onChange,
}: {
  label: string;
  /** The message as it is kept. */
  value: string;
  /** In whose plural forms numbers are said. */
  language: string;
  /** Fields that can be put in. */
  tokens: readonly string[];
  /** What each is worth in a real event. */
  examples: Readonly<Record<string, string>>;
  /** Longest message that is kept, in characters. */
  most?: number;
  oneLine?: boolean;
  direction?: string;
  /** Whether one goes on writing here as soon as it is there. */
  isFirst?: boolean;
  /** What is to be known about words of it. */
  warnings?: readonly Warning[];
  onChange(value: string): void;
}) {
  const id = useId();
  const [menu, setMenu] = useState(false);
  const [linking, setLinking] = useState(false);
  const [source, setSource] = useState(false);
  // The editor is made once and calls whoever listens now.
  const told = useRef(onChange);
  told.current = onChange;
  const openMenu = useRef(setMenu);
  /** What was written here last: only what comes from elsewhere is to be shown anew. */
  const written = useRef(value);
  const editor = useEditor({
    extensions: [
      oneLine ? OneLine : Document,
      Paragraph,
      Text,
      Bold,
      Italic,
      Underline,
      Link.configure({ openOnClick: false, autolink: false, linkOnPaste: false }),
      Block,
      Warned,
    ],
    content: documentOf(value),
    autofocus: isFirst && 'end',
    // Styles come with the desk: its policy allows no others.
    injectCSS: false,
    editorProps: {
      attributes: {
        role: 'textbox',
        'aria-multiline': String(!oneLine),
        'aria-labelledby': `${id}-label`,
        'aria-describedby': `${id}-hint`,
        class: 'sentence-field',
        dir: direction,
      },
      handleTextInput: (_view, _from, _to, text) => {
        if (text !== '{') return false;
        openMenu.current(true);
        return true;
      },
      handleKeyDown: (_view, event) => {
        if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
          event.preventDefault();
          setLinking(true);
          return true;
        }
        return oneLine && event.key === 'Enter';
      },
    },
    onUpdate: ({ editor: own }) => {
      written.current = messageOf(own.getJSON());
      told.current(written.current);
    },
  });

  useEffect(() => {
    if (value === written.current) return;
    written.current = value;
    if (messageOf(editor.getJSON()) !== writeSentence(readSentence(value)))
      editor.commands.setContent(documentOf(value), { emitUpdate: false });
  }, [editor, value]);

  // By what they say: a list made anew with the same in it is no news.
  const known = JSON.stringify(warnings);
  useEffect(() => warn(editor.view, JSON.parse(known)), [editor, known]);

  const at = useEditorState({
    editor,
    selector: ({ editor: own }) => ({
      bold: own.isActive('bold'),
      italic: own.isActive('italic'),
      underline: own.isActive('underline'),
      link: own.isActive('link') ? String(own.getAttributes('link').href ?? '') : undefined,
      block: own.state.selection instanceof NodeSelection ? (own.state.selection.node.attrs.part as BlockPart) : undefined,
    }),
  });

  function put(token: string) {
    setMenu(false);
    // Set off as what is typed at the cursor would be.
    const { storedMarks, selection } = editor.state;
    const set = storedMarks ?? selection.$from.marks();
    const marks = set.map((m) => ({ type: m.type.name, attrs: m.attrs }));
    editor
      .chain()
      .focus()
      .insertContent(
        startPart(token, language).map((p) =>
          p.is === 'text' ? { type: 'text', text: p.text, marks } : { type: 'token', attrs: { part: p }, marks },
        ),
      )
      .command(({ tr }) => !!tr.setStoredMarks(set))
      .run();
  }

  const left = most - value.length;
  return (
    <div className="grid gap-1">
      <span id={`${id}-label`} className="font-semibold">
        {label}
      </span>
      <div className="rounded border border-edge bg-sheet has-[.sentence-field:focus]:outline-2 has-[.sentence-field:focus]:outline-cobalt">
        <div
          role="toolbar"
          aria-label={`${label}: how it is set`}
          className="flex flex-wrap items-center gap-0.5 border-b border-hair p-0.5"
        >
          <Tool label="Bold" keys="Ctrl B" pressed={at.bold} onUse={() => editor.chain().focus().toggleBold().run()}>
            <BoldIcon className="h-4 w-4" />
          </Tool>
          <Tool label="Italic" keys="Ctrl I" pressed={at.italic} onUse={() => editor.chain().focus().toggleItalic().run()}>
            <ItalicIcon className="h-4 w-4" />
          </Tool>
          <Tool label="Underline" keys="Ctrl U" pressed={at.underline} onUse={() => editor.chain().focus().toggleUnderline().run()}>
            <UnderlineIcon className="h-4 w-4" />
          </Tool>
          <Tool label="Link" keys="Ctrl K" pressed={at.link !== undefined} onUse={() => setLinking(!linking)}>
            <Link2 className="h-4 w-4" />
          </Tool>
          <TokenMenu open={menu} tokens={tokens} examples={examples} onOpen={setMenu} onPut={put} onLeave={() => editor.commands.focus()}>
            <button type="button" className="ms-1 inline-flex min-h-7 items-center gap-1 rounded px-2 font-semibold hover:bg-say">
              <Plus className="h-3.5 w-3.5" /> Insert
            </button>
          </TokenMenu>
          <button
            type="button"
            aria-pressed={source}
            onClick={() => setSource(!source)}
            className="ms-auto min-h-7 rounded px-2 text-[12px] text-soft hover:bg-sheet2 hover:text-ink"
          >
            {source ? 'Hide the text as kept' : 'Text as kept'}
          </button>
        </div>
        <EditorContent editor={editor} />
      </div>
      {linking && <LinkField address={at.link} editor={editor} onDone={() => setLinking(false)} />}
      {at.block && <BlockPanel part={at.block} language={language} tokens={tokens} onChange={(part) => changeBlock(editor, part)} />}
      {source && (
        <textarea
          aria-label={`${label}, as it is kept: Liquid and Markdown`}
          rows={oneLine ? 1 : 3}
          className="w-full font-mono text-[12.5px] leading-5"
          value={value}
          maxLength={most}
          dir={direction}
          onChange={(e) => onChange(e.currentTarget.value)}
        />
      )}
      {warnings.length > 0 && (
        <ul className="grid gap-0.5 text-[12px] leading-4 text-warn">
          {warnings.map(({ word, says }) => (
            <li key={`${word} ${says}`} className="border-s-2 border-warn ps-2">
              {says}
            </li>
          ))}
        </ul>
      )}
      <p id={`${id}-hint`} className="flex justify-between gap-3 text-[12px] leading-4 text-soft">
        <span>
          Type <kbd className="font-mono">{'{'}</kbd> to put in a field of the event.
        </span>
        <span className={left < 0 ? 'font-semibold text-bad' : undefined}>
          {left < 0
            ? `${-left} characters too many`
            : `${lengthOf(readSentence(value), examples)} letters to read${left < 100 ? `, ${left} characters left` : ''}`}
        </span>
      </p>
    </div>
  );
}

function changeBlock(editor: Editor, part: BlockPart) {
  const { selection } = editor.state;
  if (!(selection instanceof NodeSelection)) return;
  const changed = editor.state.tr.setNodeMarkup(selection.from, undefined, { part });
  editor.view.dispatch(changed.setSelection(NodeSelection.create(changed.doc, selection.from)));
}

function Tool({
  label,
  keys,
  pressed,
  onUse,
  children,
}: {
  label: string;
  keys: string;
  pressed: boolean;
  onUse(): void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={pressed}
      title={`${label} (${keys})`}
      // The words that are chosen stay chosen.
      onMouseDown={(event) => event.preventDefault()}
      onClick={onUse}
      className={`grid h-7 w-8 place-items-center rounded ${pressed ? 'bg-ink text-white' : 'hover:bg-sheet2'}`}
    >
      {children}
    </button>
  );
}

function LinkField({ address, editor, onDone }: { address: string | undefined; editor: Editor; onDone(): void }) {
  const [typed, setTyped] = useState(address ?? '');
  const set = (to: string) => {
    const chain = editor.chain().focus().extendMarkRange('link');
    if (to) chain.setLink({ href: to }).run();
    else chain.unsetLink().run();
    onDone();
  };
  return (
    <div className="flex flex-wrap items-center gap-2 rounded border border-hair bg-sheet2 p-2">
      <label className="flex min-w-0 flex-1 items-center gap-2">
        Leads to
        <input
          // biome-ignore lint/a11y/noAutofocus: asked for by the person, who goes on typing here.
          autoFocus
          className="min-w-0 flex-1"
          placeholder="/shop or https://"
          value={typed}
          onChange={(e) => setTyped(e.currentTarget.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter') {
              e.preventDefault();
              set(typed.trim());
            }
            if (e.key === 'Escape') {
              e.stopPropagation();
              onDone();
              editor.commands.focus();
            }
          }}
        />
      </label>
      <button type="button" className="font-semibold text-cobalt hover:underline" onClick={() => set(typed.trim())}>
        Set link
      </button>
      {address !== undefined && (
        <button type="button" className="font-semibold text-cobalt hover:underline" onClick={() => set('')}>
          Remove link
        </button>
      )}
    </div>
  );
}
