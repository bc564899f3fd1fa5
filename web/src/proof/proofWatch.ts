/** How the pages that are here stand to what is written. */
export interface ProofStanding {
  /** Newer pages are on their way. */
  isBusy: boolean;
  /** The last try to make newer pages failed: those that are here are of before. */
  hasFailed: boolean;
}

/** Keeps how the pages stand apart from the pages: it changes several times a key, and only what says it is drawn anew then. */
export class ProofWatch {
  /** Counts how often newer pages were asked for, and how often by the time of those that are here. */
  private asked = 0;
  private seen = 0;
  private now: ProofStanding = { isBusy: true, hasFailed: false };
  private readonly listeners = new Set<() => void>();

  get standing(): ProofStanding {
    return this.now;
  }

  listen = (told: () => void) => {
    this.listeners.add(told);
    return () => void this.listeners.delete(told);
  };

  /** Newer pages are being made. */
  compiling() {
    this.asked++;
    this.set(true, false);
  }

  /** Word of pages came: they are of all that was asked for until now. */
  told() {
    this.caughtUp();
    this.set(this.now.isBusy, false);
  }

  /** What is fetched from now on says by itself how it stands. */
  caughtUp() {
    this.seen = this.asked;
  }

  /** Newer pages couldn't be made. */
  failed() {
    this.set(false, true);
  }

  /** Pages are here, which say of themselves whether newer ones are on their way. */
  arrived(isBehind: boolean) {
    // Something may have changed while they were on their way.
    if (this.seen === this.asked) this.set(isBehind, this.now.hasFailed);
  }

  /** No pages can be had. */
  unreachable() {
    this.set(false, this.now.hasFailed);
  }

  private set(isBusy: boolean, hasFailed: boolean) {
    if (isBusy === this.now.isBusy && hasFailed === this.now.hasFailed) return;
    this.now = { isBusy, hasFailed };
    this.listeners.forEach((told) => told());
  }
}
