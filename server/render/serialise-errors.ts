import type { Refusal } from '@jossel/core/surface';

/** An error's name does not survive the way to the main thread; what matters of it is handed over as a value. */
export type Serialised<T> = { value: T } | { refusal: SerialisedRefusal };
type SerialisedRefusal = { name: string; message: string } & Partial<
  Pick<Refusal, 'code' | 'sentence' | 'where'>
>;

/** What a person can mend, or asked for; anything else is a fault and stays one. */
const HANDED_OVER = ['NotAPicture', 'Refusal', 'Stopped'];

export async function serialiseErrors<T>(work: () => Promise<T>): Promise<Serialised<T>> {
  try {
    return { value: await work() };
  } catch (error) {
    const { name, message, code, sentence, where } = error as Refusal;
    if (!HANDED_OVER.includes(name)) throw error;
    return { refusal: { name, message, ...(code ? { code, sentence, where } : {}) } };
  }
}
