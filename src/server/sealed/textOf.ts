/** Vocabularies by id as one text: the same for the same, in whatever order the database gave them. */
export const textOf = (...vocabularies: readonly (Readonly<Record<string, unknown>> | undefined)[]): string =>
  JSON.stringify(vocabularies.map((by) => Object.entries(by ?? {}).sort(([a], [b]) => (a < b ? -1 : 1))));
