import { useCallback } from 'react';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import { Button, Quiet, Row, Sentence } from '../controls/basics';

/** A view whose failure leaves all others as they are. It is drawn anew when what it shows changes, or when asked to. */
export function Guarded({
  name,
  shows,
  children,
}: {
  /** As it is called in a sentence: "The proof". */
  name: string;
  /** When one of these changes, it is tried again. */
  shows: readonly unknown[];
  children: React.ReactNode;
}) {
  const fallback = useCallback((props: FallbackProps) => <Failed name={name} {...props} />, [name]);
  return (
    <ErrorBoundary resetKeys={[...shows]} fallbackRender={fallback}>
      {children}
    </ErrorBoundary>
  );
}

/** Whether the code of a view could not be fetched: then only loading the page anew helps. */
export const isUnfetched = (error: unknown): boolean =>
  /dynamically imported module|Importing a module script failed/i.test(messageOf(error));

export const messageOf = (error: unknown): string =>
  (error as { message?: string } | null)?.message ?? String(error);

function Failed({ name, error, resetErrorBoundary }: FallbackProps & { name: string }) {
  return (
    <section aria-label={`${name} failed`} style={{ padding: 12, overflow: 'auto' }}>
      <Sentence>
        {name} failed: {isUnfetched(error) ? 'Jossel’s server does not answer.' : messageOf(error)}
      </Sentence>
      <Quiet>
        All else can be worked with, and what you made is kept.
        {!isUnfetched(error) && ' Undo what you changed last, or try again.'}
      </Quiet>
      <Row style={{ marginTop: 8 }}>
        <Button onPress={() => (isUnfetched(error) ? window.location.reload() : resetErrorBoundary())}>
          Try again
        </Button>
      </Row>
    </section>
  );
}
