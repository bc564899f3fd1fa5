import { describe, expect, it } from 'vitest';
import { ProofWatch } from '../src/proof/proofWatch';

describe('how pages stand to what is written', () => {
  it('they aren’t current before any came, while newer ones are made, and as long as they say that they are behind', () => {
    const watch = new ProofWatch();
    expect(watch.standing.isBusy).toBe(true);
    watch.arrived(true);
    expect(watch.standing.isBusy).toBe(true);
    watch.arrived(false);
    expect(watch.standing.isBusy).toBe(false);
    watch.compiling();
    expect(watch.standing.isBusy).toBe(true);
  });

  it('pages that were on their way before newer ones were asked for don’t count as those', () => {
    const watch = new ProofWatch();
    watch.arrived(false);
    watch.compiling();
    watch.arrived(false);
    expect(watch.standing.isBusy).toBe(true);
    watch.told();
    watch.arrived(false);
    expect(watch.standing.isBusy).toBe(false);
  });

  it('after a lost connection those count that are fetched then', () => {
    const watch = new ProofWatch();
    watch.compiling();
    watch.caughtUp();
    watch.arrived(false);
    expect(watch.standing.isBusy).toBe(false);
  });

  it('a try that failed leaves the last pages, until the next one begins', () => {
    const watch = new ProofWatch();
    watch.compiling();
    watch.failed();
    expect(watch.standing).toEqual({ isBusy: false, hasFailed: true });
    watch.compiling();
    expect(watch.standing).toEqual({ isBusy: true, hasFailed: false });
    watch.unreachable();
    expect(watch.standing.isBusy).toBe(false);
  });

  it('tells only of changes, and whoever listens no longer hears nothing', () => {
    const watch = new ProofWatch();
    let heard = 0;
    const off = watch.listen(() => heard++);
    watch.compiling();
    watch.compiling();
    expect(heard).toBe(0);
    watch.failed();
    watch.failed();
    expect(heard).toBe(1);
    off();
    watch.compiling();
    expect(heard).toBe(1);
  });
});
