import { useSyncExternalStore, type ReactNode } from 'react';
import { Tab, TabList, TabPanel, Tabs } from 'react-aria-components';
import type { Loft, Tab as TabName } from '../model/loft.js';
import { Changes } from './Changes.js';
import { Column } from './Column.js';
import { Conflict } from './Conflict.js';
import { Curves } from './Curves.js';
import { Differences } from './Differences.js';
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

const TABS: readonly [TabName, string][] = [
  ['curves', 'Curves'],
  ['take', 'Take and ghosts'],
  ['differences', 'Differences'],
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
      <section className="below" aria-label="Curves, takes, differences, files">
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
          <TabPanel id="curves">
            <Curves loft={loft} />
          </TabPanel>
          <TabPanel id="take">
            <Take loft={loft} />
          </TabPanel>
          <TabPanel id="differences">
            <Differences loft={loft} />
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
