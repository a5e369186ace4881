/** Longest part of a selector that is worth keeping. */
const LONGEST_NAME = 60;

/** Names that a build or a framework made up: they are others after the next release. */
const MADE_UP = /\d{3,}|[0-9a-f]{6,}|^(css|sc|jsx|svelte|ng|ember)-|__|--[0-9a-z]{4,}$/i;

const isKept = (name: string) =>
  name.length > 0 && name.length <= LONGEST_NAME && !MADE_UP.test(name) && !/^(active|open|hover|focus|selected|is-|has-)/.test(name);

/**
 * A selector that means an element and will go on meaning it: by id, by a marking attribute, by the classes people write;
 * else by its place under the nearest element that has such a name.
 *
 * @returns The selector, and how many elements of the page it means.
 */
export function selectorOf(element: Element): { selector: string; matches: number } {
  const own = named(element);
  if (own && count(own) === 1) return { selector: own, matches: 1 };
  let path = own ?? placed(element);
  for (let parent = element.parentElement; parent && parent !== document.documentElement; parent = parent.parentElement) {
    const name = named(parent);
    const within = name ? `${name} ${path}` : undefined;
    if (within && count(within) === 1) return { selector: within, matches: 1 };
    // One with a name of its own that means several, such as every card of a list, is what was likely meant.
    if (!own) path = `${name ?? placed(parent)} > ${path}`;
    if (count(path) === 1) return { selector: path, matches: 1 };
  }
  return { selector: path, matches: count(path) };
}

function named(element: Element): string | undefined {
  const tag = element.localName;
  if (element.id && isKept(element.id)) return `#${CSS.escape(element.id)}`;
  for (const mark of ['data-testid', 'name', 'aria-label'] as const) {
    const value = element.getAttribute(mark);
    if (value && value.length <= LONGEST_NAME) return `${tag}[${mark}="${CSS.escape(value)}"]`;
  }
  const classes = [...element.classList].filter(isKept).slice(0, 2);
  return classes.length > 0 ? `${tag}${classes.map((c) => `.${CSS.escape(c)}`).join('')}` : undefined;
}

function placed(element: Element): string {
  const alike = [...(element.parentElement?.children ?? [])].filter((e) => e.localName === element.localName);
  return alike.length > 1 ? `${element.localName}:nth-of-type(${alike.indexOf(element) + 1})` : element.localName;
}

function count(selector: string): number {
  try {
    return document.querySelectorAll(selector).length;
  } catch {
    return 0;
  }
}
