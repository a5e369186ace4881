/** What can be done by keys, as people look it up. */
export const KEYS: readonly (readonly [what: string, keys: string])[] = [
  ['Find anything, do anything', 'Ctrl K'],
  ['Help and these keys', '?'],
  ['Undo in a brief', 'Ctrl Z'],
  ['Redo', 'Ctrl Shift Z'],
  ['Close a panel or an editor', 'Esc'],
  ['Open the phrase one stands on', 'Enter'],
  ['Bold, italic, underlined, link in a message', 'Ctrl B, I, U, K'],
];
