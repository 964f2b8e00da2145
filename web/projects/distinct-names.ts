import { printNumber } from '@jossel/core/units';
import type { FinishItem } from '../app/api';

/** What tells finishes of one name apart, the plainest first. */
const DETAILS: readonly ((finish: Pick<FinishItem, 'headline'>) => string)[] = [
  ({ headline }) => headline?.code ?? '',
  ({ headline }) => headline?.line ?? '',
  ({ headline }) => headline?.supplier ?? '',
  ({ headline }) => (headline ? `LRV ${printNumber(headline.lrv, 0)}` : ''),
  ({ headline }) => (headline ? `${printNumber(headline.repeatMm.width, 0)}\u2009mm wide` : ''),
];

const numberOfDifferent = (texts: readonly string[]) => new Set(texts).size;

/**
 * Names to choose finishes by. Where several have one name, each is followed by the first detail in which all of them
 * differ, or by its place in the list.
 */
export function distinctNames(
  finishes: readonly Pick<FinishItem, 'id' | 'name' | 'headline'>[],
): Map<string, string> {
  const alike = new Map<string, (typeof finishes)[number][]>();
  for (const finish of finishes) alike.set(finish.name, [...(alike.get(finish.name) ?? []), finish]);
  const names = new Map<string, string>();
  for (const [name, group] of alike) {
    const detail = DETAILS.find((of) => numberOfDifferent(group.map(of)) === group.length);
    group.forEach((finish, k) =>
      names.set(
        finish.id,
        group.length === 1 ? name : `${name} · ${detail?.(finish) || `${k + 1} of ${group.length}`}`,
      ),
    );
  }
  return names;
}
