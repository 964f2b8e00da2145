/** An error a person can act on, sent as RFC 9457 problem details. */
export class Problem extends Error {
  override readonly name = 'Problem';

  /**
   * @param status HTTP status
   * @param title what kind of problem, the same every time
   * @param detail what is wrong here and what would be accepted
   * @param extra further members of the problem document
   */
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly extra: Record<string, unknown> = {},
  ) {
    super(detail);
  }
}

/** The thing asked for is not there. */
export const notFound = (what: string, id: string) =>
  new Problem(
    404,
    'Not found',
    `There is no ${what} "${id}". It may have been removed, or the address is mistyped.`,
  );
