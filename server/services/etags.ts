/** ETags of what is changed by version. */

export const etagOf = (version: number) => `"${version}"`;

/** The next version has to fit into its column as well. */
const MOST_VERSION = 2 ** 31 - 2;

/** The version that an ETag names; null: it is none of ours. One that no row can have is never the newest. */
export function versionIn(etag: string | undefined): number | null {
  const version = /^(?:W\/)?"(\d{1,12})"$/.exec(etag ?? '')?.[1];
  return version === undefined ? null : Math.min(Number(version), MOST_VERSION);
}
