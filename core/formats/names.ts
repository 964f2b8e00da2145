/** A name that every file system takes: letters, digits and hyphens. */
export function fileName(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase();
  return plain.slice(0, 80) || 'finish';
}
