import { useEffect, useRef } from 'react';
import { Link, useParams } from 'react-router';
import { api, type Finish } from '../app/api';
import { Fault } from '../app/Fault';
import { useAppDispatch, useAppSelector } from '../app/store';
import { Page } from '../controls/basics';
import { draftSlice } from './draft-slice';
import { keptHistory } from './kept-history';
import { DrawingsProvider } from './open/drawings';
import { FindingsProvider } from './open/findings';
import { InHandProvider } from './open/in-hand';
import { Sheet } from './open/Sheet';
import { unsavedDraft } from './save-draft';
import { useAddress } from './use-address';

/** The work on one finish, laid out as a drawing sheet. */
export function Bench() {
  const { id } = useParams() as { id: string };
  const {
    data: finish,
    error,
    refetch,
    isFetching,
  } = api.useFinishQuery(id, { refetchOnMountOrArgChange: true });
  // A finish that is open stays open while the server is away.
  if (error && finish?.id !== id) {
    return (
      <Page>
        <h1>This finish cannot be opened</h1>
        <Fault error={error} retry={() => void refetch()} busy={isFetching} />
        <p style={{ marginTop: 12 }}>
          <Link to="/rack">To the rack</Link>
        </p>
      </Page>
    );
  }
  return finish && finish.id === id ? <OpenFinish key={id} finish={finish} /> : <Page>Opening …</Page>;
}

/** Opens the draft of a finish, and then the sheet on which it is worked on. */
function OpenFinish({ finish }: { finish: Finish }) {
  const dispatch = useAppDispatch();
  const recipe = useAppSelector(({ draft }) => (draft.finishId === finish.id ? draft.recipe : null));
  const isOpen = recipe !== null;
  const opened = useRef(false);
  useEffect(() => {
    // Opened once; later answers of the server must not undo what was typed meanwhile.
    if (opened.current && isOpen) return;
    opened.current = true;
    const unsaved = unsavedDraft(finish.id);
    const history = keptHistory(sessionStorage, finish.id, unsaved?.recipe ?? finish.draft.recipe);
    dispatch(draftSlice.actions.opened({ finishId: finish.id, ...finish.draft, unsaved, history }));
  }, [dispatch, finish, isOpen]);

  useAddress();
  useEffect(() => {
    document.title = `${finish.name} · Jossel`;
  }, [finish.name]);

  if (!recipe) return <Page>Opening …</Page>;
  return (
    <InHandProvider finish={finish} recipe={recipe}>
      <DrawingsProvider>
        <FindingsProvider>
          <Sheet />
        </FindingsProvider>
      </DrawingsProvider>
    </InHandProvider>
  );
}
