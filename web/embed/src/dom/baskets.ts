import type { BasketRule } from '../model/types';

const MARKED = 'data-outcry-basket';

/**
 * Watches for clicks that put something into the basket: on buttons marked with `data-outcry-basket`, whose value may
 * name the product, and on those that the desk's selectors mean.
 */
export function watchBaskets(rules: () => BasketRule[], added: (data: Record<string, string>) => void) {
  addEventListener(
    'click',
    (event) => {
      const at = event.target;
      if (!(at instanceof Element)) return;
      for (const rule of rules()) {
        const marked = at.closest(`[${MARKED}]`);
        const button = marked ?? (rule.selector ? closest(at, rule.selector) : null);
        if (!button) continue;
        const product = marked?.getAttribute(MARKED) || textOf(rule.product);
        if (product) added({ product, url: location.href.split('#')[0] ?? '', ...picture() });
        // Several sources may listen; the server hands one report to all of them.
        return;
      }
    },
    true,
  );
}

function closest(at: Element, selector: string): Element | null {
  try {
    return at.closest(selector);
  } catch {
    // A selector that is none finds nothing.
    return null;
  }
}

function textOf(selector: string): string {
  try {
    return (
      document
        .querySelector(selector || 'h1')
        ?.textContent?.trim()
        .slice(0, 200) ?? ''
    );
  } catch {
    return '';
  }
}

// The page's own picture of itself (Open Graph protocol), where it has one.
function picture(): Record<string, string> {
  const image = document.querySelector('meta[property="og:image"]')?.getAttribute('content');
  return image && /^https?:/.test(image) ? { image } : {};
}
