/** A path of a table that an address is of, and what stands in its braces. */
export interface FoundPath<Path extends string = string> {
  readonly path: Path;
  readonly params: Readonly<Record<string, string>>;
}

/** Finds which of some paths ("/api/leads/{id}") an address is of. What is named in full goes before what takes anything. */
export function pathFinder<Path extends string>(paths: readonly Path[]): (pathname: string) => FoundPath<Path> | undefined {
  const placesIn = (path: string): number => path.match(/\{/g)?.length ?? 0;
  const patterns = [...new Set(paths)]
    .sort((a, b) => placesIn(a) - placesIn(b))
    .map((path) => ({ path, regex: new RegExp(`^${path.replaceAll('.', '[.]').replace(/\{(\w+)\}/g, '(?<$1>[^/]+)')}/?$`) }));
  return (pathname) => {
    for (const { path, regex } of patterns) {
      const found = regex.exec(pathname);
      if (found)
        return { path, params: Object.fromEntries(Object.entries(found.groups ?? {}).map(([name, text]) => [name, decoded(text)])) };
    }
    return undefined;
  };
}

/** What cannot be decoded stays as it is, and is the id of nothing. */
function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch (cause) {
    if (cause instanceof URIError) return text;
    throw cause;
  }
}
