/**
 * Something that a person can mend: a setting that cannot be, a picture that is missing. It is shown as it is. Anything
 * else that is thrown is a fault of the program.
 */
export class Refusal extends Error {
  override readonly name = 'Refusal';

  /**
   * @param code short name for programs, the same every time
   * @param sentence what is wrong and what would be accepted
   * @param where the setting it is about, as a path in the recipe (`repeat.composed.widthMm`); empty: the whole finish
   */
  constructor(
    readonly code: string,
    readonly sentence: string,
    readonly where = '',
  ) {
    super(sentence);
  }
}

/** Thrown when the signal says to stop. */
export class Stopped extends Error {
  override readonly name = 'Stopped';
  constructor() {
    super('Stopped when asked.');
  }
}

/** Whether an error is a refusal; also one that came from another thread and kept only its name. */
export const isRefusal = (error: unknown): error is Refusal => (error as Error | null)?.name === 'Refusal';

/**
 * Runs work of a lower level that says what cannot be with a RangeError, and refuses with its sentence.
 * @param code of the refusal
 * @param where of the refusal
 */
export function refusing<T>(code: string, where: string, work: () => T): T {
  const refuse = (error: unknown): never => {
    if (error instanceof RangeError) throw new Refusal(code, error.message, where);
    throw error;
  };
  try {
    const done = work();
    return done instanceof Promise ? (done.catch(refuse) as T) : done;
  } catch (error) {
    return refuse(error);
  }
}
