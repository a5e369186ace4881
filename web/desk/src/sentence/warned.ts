import { Extension } from '@tiptap/core';
import type { Node } from '@tiptap/pm/model';
import { Plugin, PluginKey } from '@tiptap/pm/state';
import { Decoration, DecorationSet, type EditorView } from '@tiptap/pm/view';

/** Something to know about one word of a message. */
export interface Warning {
  /** The word as it stands there, or the name of a token; empty for the message as a whole. */
  word: string;
  says: string;
}

interface Known {
  warnings: readonly Warning[];
  marks: DecorationSet;
}

const KEY = new PluginKey<Known>('warned');

/** Marks the words that something is to be known about. */
export const Warned = Extension.create({
  name: 'warned',
  addProseMirrorPlugins: () => [
    new Plugin<Known>({
      key: KEY,
      state: {
        init: () => ({ warnings: [], marks: DecorationSet.empty }),
        apply(change, known) {
          const warnings: readonly Warning[] = change.getMeta(KEY) ?? known.warnings;
          if (warnings === known.warnings && !change.docChanged) return known;
          return { warnings, marks: DecorationSet.create(change.doc, marksOf(change.doc, warnings)) };
        },
      },
      props: { decorations: (state) => KEY.getState(state)?.marks },
    }),
  ],
});

/** Tells the editor which words are meant now. */
export const warn = (view: EditorView, warnings: readonly Warning[]) => view.dispatch(view.state.tr.setMeta(KEY, warnings));

function marksOf(doc: Node, warnings: readonly Warning[]): Decoration[] {
  const marks: Decoration[] = [];
  doc.descendants((node, at) => {
    for (const { word, says } of warnings) {
      const look = { class: 'sentence-warned', title: says };
      if (node.type.name === 'token' && node.attrs.part.name === word) marks.push(Decoration.node(at, at + node.nodeSize, look));
      for (const from of node.isText ? placesOf(word, node.text ?? '') : [])
        marks.push(Decoration.inline(at + from, at + from + word.length, look));
    }
  });
  return marks;
}

/** Where a word stands in a text, as a word of its own and whatever its case. */
export function placesOf(word: string, text: string): number[] {
  if (!word) return [];
  const whole = new RegExp(`(?<![\\p{L}\\p{N}])${word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?![\\p{L}\\p{N}])`, 'giu');
  return [...text.matchAll(whole)].map((m) => m.index);
}
