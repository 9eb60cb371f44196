// Countries and languages by their English names, from the platform's own tables.

const LETTERS = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'];
const LANGUAGES =
  'af am ar az be bg bn bs ca cs cy da de el en es et eu fa fi fr ga gl gu he hi hr hu hy id is it ja ka kk km kn ko ky lb lo lt lv mk ml mn mr ms my nb ne nl no pa pl ps pt ro ru si sk sl sq sr sv sw ta te th tr uk ur uz vi zh'.split(
    ' ',
  );
const ALSO_CALLED: Readonly<Record<string, string>> = {
  uk: 'GB',
  'great britain': 'GB',
  britain: 'GB',
  england: 'GB',
  usa: 'US',
  'the us': 'US',
  'united states of america': 'US',
  america: 'US',
  holland: 'NL',
  'czech republic': 'CZ',
  turkey: 'TR',
};

let countries: ReadonlyMap<string, string> | undefined;
let languages: ReadonlyMap<string, string> | undefined;

/** The ISO 3166-1 alpha-2 code of a country named in English. */
export function countryCalled(name: string): string | undefined {
  countries ??= new Map([
    ...namesOf(
      LETTERS.flatMap((first) => LETTERS.map((second) => first + second)),
      new Intl.DisplayNames('en', { type: 'region', fallback: 'none' }),
    ),
    ...Object.entries(ALSO_CALLED),
  ]);
  return countries.get(name.toLowerCase().replace(/^the /, '')) ?? countries.get(name.toLowerCase());
}

/** The tag of a language named in English. */
export function languagesCalled(name: string): string | undefined {
  languages ??= new Map(namesOf(LANGUAGES, new Intl.DisplayNames('en', { type: 'language', fallback: 'none' })));
  return languages.get(name.toLowerCase());
}

/** Codes that are out of use have the names of those that took their place, which come later and win. */
function namesOf(codes: readonly string[], names: Intl.DisplayNames): [string, string][] {
  return codes.flatMap((code): [string, string][] => {
    const name = names.of(code);
    return name === undefined || GONE.has(code) ? [] : [[name.toLowerCase(), code]];
  });
}

const GONE = new Set('AN BU CS DD DY FQ FX HV JT MI NH NQ NT PC PU PZ RH SU TP UK VD WK YD YU ZR XA XB ZZ QO EU EZ UN'.split(' '));
