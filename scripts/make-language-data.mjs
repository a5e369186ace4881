// Writes the part of the Unicode CLDR that the core uses: cardinal plural rules of all languages, and relative times of
// the languages that visitors are spoken to in. Run by hand when CLDR has news, from a folder with the npm packages
// `cldr-core` and `cldr-dates-full` installed: node make-language-data.mjs > language-data.json
import { createRequire } from 'node:module';

const require = createRequire(`${process.cwd()}/`);
const SPOKEN = ['en', 'de', 'fr', 'es', 'nl', 'it', 'pt', 'ja', 'ar'];
const UNITS = ['minute', 'hour', 'day', 'week', 'month'];
const cardinal = require('cldr-core/supplemental/plurals.json').supplemental['plurals-type-cardinal'];

// The samples after "@" are examples for readers, not part of the rule (UTS #35, part 3, "Plural Rules Syntax").
const plurals = Object.fromEntries(
  Object.entries(cardinal).map(([language, rules]) => [
    language,
    Object.fromEntries(
      Object.entries(rules)
        .map(([key, rule]) => [key.replace('pluralRule-count-', ''), rule.split('@')[0].trim()])
        .filter(([category]) => category !== 'other'),
    ),
  ]),
);

const ago = Object.fromEntries(
  SPOKEN.map((language) => {
    const fields = require(`cldr-dates-full/main/${language}/dateFields.json`).main[language].dates.fields;
    return [
      language,
      {
        now: fields.second['relative-type-0'],
        ...Object.fromEntries(
          UNITS.map((unit) => [
            unit,
            Object.fromEntries(
              Object.entries(fields[unit]['relativeTime-type-past']).map(([key, pattern]) => [
                key.replace('relativeTimePattern-count-', ''),
                pattern,
              ]),
            ),
          ]),
        ),
      },
    ];
  }),
);

process.stdout.write(`${JSON.stringify({ source: 'Unicode CLDR 48.2 (Unicode License v3)', plurals, ago }, null, 1)}\n`);
