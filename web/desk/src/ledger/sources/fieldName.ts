/** A name for a kept place: its last part, in letters, digits and underscores. */
export const fieldName = (place: string) =>
  (place.split(/[/.]/).filter(Boolean).pop() ?? 'field')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '_')
    .replace(/^_+|_+$/g, '')
    .slice(0, 60) || 'field';
