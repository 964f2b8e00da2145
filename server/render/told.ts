/** An error's name does not survive the way to the main thread; what matters of it is handed over as a value. */
export type Told<T> = { value: T } | { refusal: { name: string; message: string } };

export async function told<T>(work: () => Promise<T>): Promise<Told<T>> {
  try {
    return { value: await work() };
  } catch (error) {
    const { name, message } = error as Error;
    if (name === 'NotAPicture' || name === 'CannotRender' || name === 'Stopped' || name === 'RangeError')
      return { refusal: { name, message } };
    throw error;
  }
}
