/**
 * What the server solved before: asked for before a composed repeat is solved here, which takes several seconds.
 * @param key of all that it depends on, see `solvedBefore` in the core
 * @returns null where it is not known, or the server does not answer
 */
export async function solvedBefore(key: string): Promise<Uint8Array | null> {
  const response = await fetch(`/api/solved-repeats/${key}`).catch(() => null);
  return response?.status === 200 ? new Uint8Array(await response.arrayBuffer()) : null;
}
