import { Component, type ErrorInfo, type ReactNode } from 'react';
import { Link } from 'react-router';

interface Props {
  /** The place that is shown: at another one it is tried anew. */
  place: string;
  children: ReactNode;
}

const ReloadAtMostEvery = 20_000;
const AskEvery = 1000;
const stamp = 'folio.reloaded';

/** Whether an error means that code couldn't be fetched: the server has another version by now, or can't be reached. */
export const isMissingCode = (error: Error) =>
  /dynamically imported module|importing a module script|module script|error loading dynamically|preload CSS/i.test(
    error.message,
  );

/** Keeps what goes wrong in one place from taking the page along: it says so, and has a way back. */
export class RoomBoundary extends Component<Props, { error: Error | null; place: string }> {
  override state: { error: Error | null; place: string } = { error: null, place: this.props.place };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  static getDerivedStateFromProps(props: Props, state: { error: Error | null; place: string }) {
    return props.place === state.place ? null : { place: props.place, error: null };
  }

  override componentDidCatch(error: Error, info: ErrorInfo) {
    console.error(error, info.componentStack);
    if (isMissingCode(error)) void reloadOnceItAnswers();
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    if (isMissingCode(error)) {
      return (
        <div role="alert" className="p-10">
          <p>
            This room’s code can’t be loaded: the server was probably updated. The page loads again by itself, at the
            same place, as soon as the server answers.
          </p>
          <button className="button mt-3" onClick={() => window.location.reload()}>
            Load it again now
          </button>
        </div>
      );
    }
    return (
      <div role="alert" className="p-10">
        <p>Something went wrong in this room. What you wrote is safe.</p>
        <p className="mt-3 flex items-center gap-3">
          <button className="button" onClick={() => this.setState({ error: null })}>
            Try again
          </button>
          <Link to="/" className="text-slate underline">
            Back to your shelf
          </Link>
        </p>
      </div>
    );
  }
}

// A page that loads again and again at once would be worse than one that says what is wrong for a while.
async function reloadOnceItAnswers() {
  const next = Number(sessionStorage.getItem(stamp)) + ReloadAtMostEvery;
  for (;;) {
    await new Promise((resolve) => window.setTimeout(resolve, Math.max(AskEvery, next - Date.now())));
    const answers = await fetch('/health', { cache: 'no-store' }).then(
      (r) => r.ok,
      () => false,
    );
    if (!answers) continue;
    sessionStorage.setItem(stamp, String(Date.now()));
    window.location.reload();
    return;
  }
}
