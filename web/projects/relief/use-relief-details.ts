import { useEffect, useMemo, useState } from 'react';
import type { ReliefToPlan } from '@jossel/core/schedule';
import { useAppDispatch } from '../../app/store';
import { projectApi, type Project } from '../project-api';

/** What is known of the relief of a finish at a revision: what meshes leave out of it, or why that is not known. */
export type KnownRelief = { relief: ReliefToPlan } | { error: unknown };

export const reliefKey = ({ id, revision }: { id: string; revision: string }) => `${id} ${revision}`;

/** The finishes of a project's surfaces, each revision once. */
const laidOn = (project: Project) => {
  const finishes = project.rooms.flatMap((r) => r.surfaces).flatMap((s) => s.finish ?? []);
  return [...new Map(finishes.map((f) => [reliefKey(f), { id: f.id, revision: f.revision }])).values()];
};

/**
 * Reads the relief of all finishes of a project, one after the other, so that other work of the server goes on.
 * @returns what is known so far by finish and revision, how many there are, and a way to ask again for those that failed
 */
export function useReliefDetails(project: Project) {
  const dispatch = useAppDispatch();
  const [known, setKnown] = useState<ReadonlyMap<string, KnownRelief>>(new Map());
  const [attempt, setAttempt] = useState(0);
  // A project that was read again has the same finishes most of the time.
  const keys = laidOn(project).map(reliefKey).sort().join('|');
  const wanted = useMemo(
    () =>
      keys
        .split('|')
        .filter(Boolean)
        .map((key) => {
          const [id, revision] = key.split(' ') as [string, string];
          return { id, revision };
        }),
    [keys],
  );
  useEffect(() => {
    let left = false;
    void (async () => {
      for (const finish of wanted) {
        if (left) return;
        const asked = dispatch(
          projectApi.endpoints.reliefDetail.initiate(finish, {
            subscribe: false,
            forceRefetch: attempt > 0,
          }),
        );
        const answer = await asked;
        if (left) return;
        const found: KnownRelief = answer.data ? { relief: answer.data } : { error: answer.error };
        setKnown((before) => new Map(before).set(reliefKey(finish), found));
      }
    })();
    return () => {
      left = true;
    };
  }, [dispatch, wanted, attempt]);
  return { known, count: wanted.length, retry: () => setAttempt((n) => n + 1) };
}
