import { RULE_VERSION } from './schema';

/** One named step from a version of a stored document to the next. */
export interface Upgrade {
  readonly name: string;
  readonly from: number;
  readonly apply: (document: Readonly<Record<string, unknown>>) => Readonly<Record<string, unknown>>;
}

/** Steps of rules and segments, oldest first. Version 1 is the first; a step is added here when a stored shape changes. */
export const RULE_UPGRADES: readonly Upgrade[] = [];

export class UnknownVersion extends Error {
  readonly code = 'document.version';
  constructor(
    readonly met: unknown,
    readonly newest: number,
  ) {
    super(`Met a stored document of version ${String(met)}; this program knows versions up to ${newest}`);
  }
}

/** Brings a stored document to the newest version. A document without a version is of the first. */
export function upgrade(
  document: Readonly<Record<string, unknown>>,
  steps: readonly Upgrade[] = RULE_UPGRADES,
  newest: number = RULE_VERSION,
): Readonly<Record<string, unknown>> {
  const met = document['version'] ?? 1;
  if (typeof met !== 'number' || !Number.isInteger(met) || met < 1 || met > newest) throw new UnknownVersion(met, newest);
  let current = document;
  for (let version = met; version < newest; version++) {
    const step = steps.find(({ from }) => from === version);
    if (!step) throw new UnknownVersion(version, newest);
    current = { ...step.apply(current), version: version + 1 };
  }
  return current;
}
