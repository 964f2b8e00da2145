/**
 * Whether keys are meant for a field: text is being typed that has not been taken over yet. A field says so itself by
 * `data-typing`; in one that does not, everything typed is its own.
 */
export function isTyping(target: EventTarget | null): boolean {
  if (target instanceof HTMLTextAreaElement) return true;
  if (!(target instanceof HTMLInputElement) || !['text', 'search'].includes(target.type)) return false;
  return target.dataset['typing'] !== 'no';
}
