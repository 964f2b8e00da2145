import { useRef, useState } from 'react';
import { TextBox } from './fields';

/** A name in place of itself, to be typed anew: Enter and leaving take it over, Escape gives it up. */
export function RenameBox({ name, onEnd }: { name: string; onEnd: (name: string | null) => void }) {
  const [typed, setTyped] = useState(name);
  const ended = useRef(false);
  const end = (take: boolean) => {
    if (ended.current) return;
    ended.current = true;
    const next = typed.trim();
    onEnd(take && next && next !== name ? next : null);
  };
  return (
    <TextBox
      autoFocus
      aria-label={`New name of ${name}`}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
      onFocus={(e) => e.target.select()}
      onBlur={() => end(true)}
      onKeyDown={(e) => {
        if (e.key === 'Enter') end(true);
        if (e.key === 'Escape') end(false);
      }}
    />
  );
}
