import type { ReactNode } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { Message } from './Message';

/** Keeps what goes wrong on one screen to that screen: the others, the strip and the keys go on. */
export function ScreenBoundary({ place, children }: { place: string; children: ReactNode }) {
  return (
    <ErrorBoundary
      resetKeys={[place]}
      onError={(error) => console.error(error)}
      fallbackRender={({ error, resetErrorBoundary }) => (
        <Message
          title="This screen cannot be shown"
          action={
            <button type="button" className="btn btn-sm btn-neutral" onClick={resetErrorBoundary}>
              Try again
            </button>
          }
        >
          <p role="alert">
            Something on it went wrong: {error instanceof Error ? error.message : String(error)}. Your work is not
            touched; the other screens go on.
          </p>
        </Message>
      )}
    >
      {children}
    </ErrorBoundary>
  );
}
