export function specsOf(files: readonly string[], covers?: Readonly<Record<string, readonly string[]>>): string[];
