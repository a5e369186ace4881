const TYPED_INTO = new Set(['text', 'search', 'email', 'url', 'tel', 'number', 'password', 'date', 'datetime-local', 'time', 'color']);

/** Whether a key pressed there goes into what somebody types: a text, a number, a date, a list that is open. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  if (target instanceof HTMLInputElement) return TYPED_INTO.has(target.type) && !target.readOnly && !target.disabled;
  return target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement || target.isContentEditable;
}
