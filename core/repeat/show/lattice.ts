/** A regular structure in a repeat: how many of its periods lie in it, and the shift from course to course. */
export interface Courses {
  /** Whole periods across; 1 or nothing: none. */
  across?: number | undefined;
  /** Whole courses up. */
  up?: number | undefined;
  /** Shift of one course against the next, as a share of the period across. */
  stagger?: number | undefined;
}

/** Steps, in shares of the repeat, from one piece of a structure to all the others; only none when there is one. */
export function pieces({ across = 1, up = 1, stagger = 0 }: Courses): [number, number][] {
  const out: [number, number][] = [];
  for (let row = 0; row < up; row++)
    for (let column = 0; column < across; column++)
      out.push([((((column + row * stagger) / across) % 1) + 1) % 1, row / up]);
  return out;
}

/** Whether a wave of so many periods in the repeat, across and up, is the structure's own. */
export function isOwnWave({ across = 1, up = 1, stagger = 0 }: Courses, m: number, n: number): boolean {
  const whole = (v: number) => Math.abs(v - Math.round(v)) < 0.02;
  if (across <= 1 && up <= 1) return false;
  return whole(m / across) && whole((m * stagger) / across + n / up);
}
