import { useEffect, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';

/** How long typing pauses before the rack follows. */
const FOLLOWS_AFTER_MS = 180;

/** The words that are looked for: typed in the frame, kept in the address of the rack, which follows as one types. */
export function useFind(): { words: string; type: (words: string) => void; go: () => void } {
  const { pathname, search } = useLocation();
  const navigate = useNavigate();
  const onRack = pathname === '/rack';
  const asked = onRack ? (new URLSearchParams(search).get('find') ?? '') : '';
  const [typed, setTyped] = useState<string | null>(null);

  const addressOf = (words: string) => {
    const params = onRack ? new URLSearchParams(search) : new URLSearchParams();
    if (words.trim()) params.set('find', words.trim());
    else params.delete('find');
    const text = params.toString();
    return text ? `/rack?${text}` : '/rack';
  };
  useEffect(() => {
    if (typed === null || !onRack) return;
    const timer = setTimeout(() => {
      if (typed.trim() !== asked) void navigate(addressOf(typed), { replace: true });
    }, FOLLOWS_AFTER_MS);
    return () => clearTimeout(timer);
    // The address itself is read when the time has come.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [typed, onRack]);
  // Another address, by a link or by going back, has its own words.
  useEffect(() => setTyped((t) => (t !== null && t.trim() === asked ? t : null)), [asked]);
  return {
    words: typed ?? asked,
    type: setTyped,
    go: () => void navigate(addressOf(typed ?? asked), { replace: onRack }),
  };
}
