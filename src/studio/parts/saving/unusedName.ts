/** The stem, or with the first number behind it that makes it new. */
export function unusedName(stem: string, names: readonly string[]): string {
  for (let number = 1; ; number++) {
    const name = number === 1 ? stem : `${stem} ${number}`;
    if (!names.includes(name)) return name;
  }
}
