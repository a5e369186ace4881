import { CODES } from './callingCodes';

const codes = new Map((CODES.match(/[A-Z]{2}\d+/g) ?? []).map((c) => [c.slice(0, 2), c.slice(2)]));

/** The country chosen at first: where the visitor seems to be, else where the site is at home. */
export function startCountry(home: string, seen: string | undefined): string {
  if (!seen) return home;
  const english = new Intl.DisplayNames(['en'], { type: 'region' });
  return [...codes.keys()].find((region) => english.of(region) === seen) ?? home;
}

/** Countries by their names in a language, with the code by which each is dialled. */
export function countryChoices(language: string): [region: string, says: string][] {
  const names = new Intl.DisplayNames([language, 'en'], { type: 'region' });
  const sorts = new Intl.Collator(language).compare;
  return [...codes]
    .map(([region, code]): [string, string] => [region, `${names.of(region) ?? region} +${code}`])
    .sort((a, b) => sorts(a[1], b[1]));
}

/** "+44": how numbers of a country begin. */
export const codeOf = (region: string) => `+${codes.get(region) ?? ''}`;

/** A number as it is dialled from anywhere: one that says its country itself stays as it is. */
export const dialled = (written: string, region: string): string =>
  !written || /^\s*(\+|00)/.test(written) ? written : `${codeOf(region)} ${written}`;
