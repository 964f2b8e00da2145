import { transliterate } from 'transliteration';

const MOST_LETTERS = 80;

/** A name that every file system takes: ASCII letters in lower case, digits and hyphens; other scripts are transliterated. */
export function fileName(text: string): string {
  const plain = transliterate(text.normalize('NFKC'))
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase();
  return plain.slice(0, MOST_LETTERS) || 'finish';
}

/**
 * Folder names for the finishes of one package, none of which is the same as another, even where upper and lower case
 * are not told apart.
 * @param finishes in their order; of two that would have one name, the later one is numbered
 */
export function folderNames(finishes: readonly { name: string; revision: string }[]): string[] {
  const taken = new Set<string>();
  return finishes.map(({ name, revision }) => {
    const base = fileName(name);
    let folder = `${base}-${revision}`;
    for (let n = 2; taken.has(folder.toLowerCase()); n++) folder = `${base}-${n}-${revision}`;
    taken.add(folder.toLowerCase());
    return folder;
  });
}
