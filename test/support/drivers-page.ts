import { openStage, recordTrace, stepper, type AddOptions, type Character, type Stage, type Tuning } from 'apperin';
import * as browser from 'apperin/browser';

/** A character in a plain hall, on a page: ticked by the test, on the page's own clock. */
function open(make: (drivers: typeof browser) => NonNullable<AddOptions['driver']>, tuning: Tuning = {}) {
  const rows = [...Array.from({ length: 7 }, () => '.'.repeat(60)), '.'.repeat(60), '#'.repeat(60)];
  const stage: Stage = openStage({ rows, bounds: { left: 'wall', right: 'wall' } });
  const driver = make(browser);
  const hero: Character = stage.add(tuning, { at: [30, 8], driver });
  const trace = recordTrace(stage, hero);
  const steps = stepper({ rate: 60, atMost: 600 });
  const now = (): number => performance.now() / 1000;
  /** The page's clock when the stage's was 0, s. */
  let origin = NaN;
  steps.run(now(), () => undefined);
  return {
    stage,
    hero,
    driver,
    trace,
    /** Runs what is due until now, or until some seconds later. */
    run(later = 0): number {
      return steps.run(now() + later, (dt, at) => {
        if (Number.isNaN(origin)) origin = at - stage.time;
        stage.tick(dt, at);
        trace.row();
      });
    },
    /** A moment of the page's clock (ms) on the stage's. */
    moment: (ms: number): number => ms / 1000 - origin,
  };
}

Object.assign(globalThis, { open });
