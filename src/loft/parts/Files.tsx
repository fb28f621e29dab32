import type { ReactNode } from 'react';
import { Button, FileTrigger } from 'react-aria-components';
import type { Loft } from '../model/loft.js';
import { useLoft } from './App.js';

/** What is open, and opening more. */
export function Files({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft);
  return (
    <div className="panel">
      <div className="set">
        <FileTrigger
          allowsMultiple
          acceptedFileTypes={['.yaml', '.svg', '.csv', '.json']}
          onSelect={(files) => {
            for (const file of files ?? []) void loft.files.openFile(file);
          }}
        >
          <Button>Open files</Button>
        </FileTrigger>
        <Button isDisabled={!loft.document.dirty} onPress={() => void loft.files.save()}>
          {loft.disk ? 'Save' : 'Download'} {loft.document.name}
        </Button>
      </div>
      <ul>
        <li>
          level <code>{loft.levelName}</code>
        </li>
        {loft.documents.map((one) => (
          <li key={one.name}>
            tuning <code>{one.name}</code>
            {one.dirty ? ', changed here' : ''}
            {one.theirs ? ', changed on disk' : ''}
            {one.unread ? `; what is on disk cannot be read: ${one.unread}` : ''}
          </li>
        ))}
        {loft.inputs.map(({ name }) => (
          <li key={name}>
            input <code>{name}</code>
          </li>
        ))}
      </ul>
      <p>
        {loft.disk
          ? 'Files are those that the command line was given. They are watched: what a text editor writes is followed here.'
          : 'No server: what is changed is kept in this browser, and downloaded when you ask for it.'}
      </p>
    </div>
  );
}
