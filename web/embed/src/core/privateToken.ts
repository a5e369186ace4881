const NAME = 'outcry';

/** A private link's token, as it came behind the address's "#". */
export interface PrivateLink {
  token: string;
  /** What of the fragment was the page's own. */
  rest: string;
}

/** Finds our token in a fragment such as `#outcry=…`; leaves what else stands there to the page. */
export function findPrivateLink(fragment: string): PrivateLink | undefined {
  const parts = fragment.slice(1).split('&');
  const ours = parts.find((p) => p.startsWith(`${NAME}=`));
  if (!ours) return undefined;
  const rest = parts.filter((p) => p !== ours).join('&');
  return { token: ours.slice(NAME.length + 1), rest: rest && `#${rest}` };
}

/** What sort of token it is: "stage", "trial" or "member". The server checks tokens; this only decides where one is kept. */
export function kindOf(token: string | undefined): string | undefined {
  try {
    // Its beginning, {"t":"…", is all that is read.
    return /"t":"(\w+)/.exec(atob((token ?? '').slice(0, 20)))?.[1];
  } catch {
    return undefined;
  }
}
