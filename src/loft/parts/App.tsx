import { useCallback, useRef, useSyncExternalStore, type ReactNode } from 'react';
import { Tab, TabList, TabPanel, Tabs } from 'react-aria-components';
import type { Loft, Tab as TabName } from '../model/loft.js';
import { Changes } from './Changes.js';
import { Column } from './Column.js';
import { Conflict } from './Conflict.js';
import { Strip } from './Strip.js';
import { Differences } from './Differences.js';
import { Fit } from './Fit.js';
import { Files } from './Files.js';
import { LevelView } from './LevelView.js';
import { Take } from './Take.js';
import { Bar } from './Bar.js';

/**
 * Makes a part anew whenever something has changed: anything, or what the part says that it depends on. While a number is dragged only little of the page does.
 */
export function useLoft(loft: Loft, on?: () => string): string | number {
  return useSyncExternalStore<string | number>(loft.subscribe, on ?? (() => loft.version));
}

/** While something is dragged in the level, what stands beside it follows this often at most, ms. */
const BESIDE = 60;

/** The same for what stands beside the level: it follows at once, but for while a handle is dragged. */
export function useLoftBeside(loft: Loft): number {
  const told = useRef(loft.version);
  const subscribe = useCallback(
    (listener: () => void) => {
      let waits: ReturnType<typeof setTimeout> | undefined;
      const tell = (): void => {
        waits = undefined;
        told.current = loft.version;
        listener();
      };
      const stop = loft.subscribe(() => {
        if (!loft.ahead.isDragged) {
          clearTimeout(waits);
          tell();
        } else waits ??= setTimeout(tell, BESIDE);
      });
      return () => {
        clearTimeout(waits);
        stop();
      };
    },
    [loft],
  );
  return useSyncExternalStore(subscribe, () => told.current);
}

const TABS: readonly [TabName, string][] = [
  ['strip', 'Time'],
  ['take', 'Take and ghosts'],
  ['differences', 'Differences'],
  ['fit', 'Fit'],
  ['changes', 'What did I change'],
  ['files', 'Files'],
];

export function App({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft, () => `${loft.failed}|${loft.session !== undefined}|${loft.theme}|${loft.tab}`);
  if (loft.failed !== '')
    return (
      <p className="opening" role="alert">
        This cannot be opened: {loft.failed}
      </p>
    );
  if (!loft.session) return <p className="opening">Opening…</p>;
  return (
    <div className="app" data-theme={loft.theme}>
      <Bar loft={loft} />
      <main className="stage" aria-label="The level">
        <LevelView loft={loft} />
      </main>
      <section className="below" aria-label="Time, takes, differences, files">
        <Tabs
          selectedKey={loft.tab}
          onSelectionChange={(tab) => {
            loft.tab = tab as TabName;
            loft.tell();
          }}
        >
          <TabList aria-label="Below the level">
            {TABS.map(([id, title]) => (
              <Tab key={id} id={id}>
                {title}
              </Tab>
            ))}
          </TabList>
          <TabPanel id="strip">
            <Timed loft={loft} />
          </TabPanel>
          <TabPanel id="take">
            <Take loft={loft} />
          </TabPanel>
          <TabPanel id="differences">
            <Differences loft={loft} />
          </TabPanel>
          <TabPanel id="fit">
            <Fit loft={loft} />
          </TabPanel>
          <TabPanel id="changes">
            <Changes loft={loft} />
          </TabPanel>
          <TabPanel id="files">
            <Files loft={loft} />
          </TabPanel>
        </Tabs>
      </section>
      <aside className="column" aria-label="The tuning">
        <Column loft={loft} />
      </aside>
      <Conflict loft={loft} />
    </div>
  );
}

/** The strip of time; with ghosts, what differs beside it. */
function Timed({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft, () => String(loft.session.ghosts.length > 0));
  return (
    <div className="timed">
      <Strip loft={loft} />
      {loft.session.ghosts.length > 0 ? (
        <section className="beside" aria-label="What differs" tabIndex={0}>
          <Differences loft={loft} />
        </section>
      ) : null}
    </div>
  );
}
