import { Button, Row, Sentence } from '../controls/basics';
import { sentenceOf } from './api';
import { useAppSelector } from './store';

/**
 * What went wrong with a call, and a way to try again. That the server did not answer is said until it is back; then
 * nothing is wrong any more.
 */
export function Fault({
  error,
  retry,
  busy = false,
}: {
  error: unknown;
  retry?: (() => void) | undefined;
  busy?: boolean;
}) {
  const away = useAppSelector((s) => s.connection.away);
  if (!error) return null;
  if ((error as { status?: unknown }).status === 'FETCH_ERROR' && !away && !retry) return null;
  return (
    <Row style={{ margin: '6px 0' }}>
      <Sentence>{sentenceOf(error)}</Sentence>
      {retry && (
        <Button onPress={retry} isDisabled={busy}>
          {busy ? 'Trying …' : 'Try again'}
        </Button>
      )}
    </Row>
  );
}
