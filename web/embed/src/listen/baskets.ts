import type { Kit } from '../core/kit';
import type { BasketRule } from '../core/types';

const MARKED = 'data-outcry-basket';

/**
 * Watches for clicks that put something into the basket: on buttons marked with `data-outcry-basket`, whose value may
 * name the product, and on those that the desk's selectors mean.
 */
export function watchBaskets(
  { closest, query, doc, quiet }: Kit,
  rules: () => BasketRule[],
  added: (data: Record<string, string>) => void,
) {
  doc.addEventListener(
    'click',
    quiet((event) => {
      const at = event.target;
      if (!(at instanceof Element)) return;
      for (const rule of rules()) {
        const marked = at.closest(`[${MARKED}]`);
        const button = marked ?? (rule.selector ? closest(at, rule.selector) : null);
        if (!button) continue;
        const product = marked?.getAttribute(MARKED) || textOf(rule.product);
        if (product) added({ product, url: location.origin + location.pathname, ...picture() });
        // Several sources may listen; the server hands one report to all of them.
        return;
      }
    }),
    true,
  );

  function textOf(selector: string): string {
    return (
      query(selector || 'h1')
        ?.textContent?.trim()
        .slice(0, 200) ?? ''
    );
  }

  // The page's own picture of itself (Open Graph protocol), where it has one.
  function picture(): Record<string, string> {
    const image = query('meta[property="og:image"]')?.getAttribute('content');
    return image && /^https?:/.test(image) ? { image } : {};
  }
}
