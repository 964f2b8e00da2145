/** Where the section is taken: a level line over the whole field, or one between two ends. Places are shares of the repeat. */
export type SectionLine = number | { from: readonly [number, number]; to: readonly [number, number] };

export type End = 'from' | 'to';

/** The two ends of a line on a field, mm from its left and upper edge. */
export function endsMm(
  line: SectionLine,
  repeatMm: { width: number; height: number },
  fieldWidthMm: number,
): { from: readonly [number, number]; to: readonly [number, number] } {
  if (typeof line === 'number') {
    const y = line * repeatMm.height;
    return { from: [0, y], to: [fieldWidthMm, y] };
  }
  const mm = ([u, v]: readonly [number, number]) => [u * repeatMm.width, v * repeatMm.height] as const;
  return { from: mm(line.from), to: mm(line.to) };
}

/** A line shorter than this share of the repeat's width shows nothing. */
const SHORTEST = 0.01;

/** A line with one of its ends at another place, mm; ends stay on the field. */
export function withEnd(
  line: SectionLine,
  end: End,
  [xMm, yMm]: readonly [number, number],
  repeatMm: { width: number; height: number },
  fieldMm: { width: number; height: number },
): SectionLine {
  const ends = endsMm(line, repeatMm, fieldMm.width);
  const on = ([x, y]: readonly [number, number]) =>
    [
      Math.min(fieldMm.width, Math.max(0, x)) / repeatMm.width,
      Math.min(fieldMm.height, Math.max(0, y)) / repeatMm.height,
    ] as const;
  const next = { from: on(ends.from), to: on(ends.to), [end]: on([xMm, yMm]) };
  const [dx, dy] = [
    (next.to[0] - next.from[0]) * repeatMm.width,
    (next.to[1] - next.from[1]) * repeatMm.height,
  ];
  return Math.hypot(dx, dy) < SHORTEST * repeatMm.width ? line : { from: next.from, to: next.to };
}

/** A line moved as a whole, mm; a level one stays on the first repeat. */
export function moved(
  line: SectionLine,
  [dxMm, dyMm]: readonly [number, number],
  repeatMm: { width: number; height: number },
  fieldMm: { width: number; height: number },
): SectionLine {
  if (typeof line === 'number') return Math.min(0.999, Math.max(0.001, line + dyMm / repeatMm.height));
  const { from, to } = endsMm(line, repeatMm, fieldMm.width);
  const held = (by: number, a: number, b: number, most: number) =>
    Math.min(most - Math.max(a, b), Math.max(-Math.min(a, b), by));
  const dx = held(dxMm, from[0], to[0], fieldMm.width) / repeatMm.width;
  const dy = held(dyMm, from[1], to[1], fieldMm.height) / repeatMm.height;
  return {
    from: [line.from[0] + dx, line.from[1] + dy],
    to: [line.to[0] + dx, line.to[1] + dy],
  };
}
