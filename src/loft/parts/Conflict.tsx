import type { ReactNode } from 'react';
import { Button, Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components';
import type { Loft } from '../model/loft.js';
import { useLoft } from './App.js';
import { wordOf } from './words.js';

/** The file has changed on disk and here: both values of each number, and a decision. */
export function Conflict({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft, () => (loft.document.theirs ? `${loft.version}` : ''));
  const { document } = loft;
  const { theirs } = document;
  if (!theirs) return null;
  const changes = document.changes(theirs.text);
  const unread = document.wrongIn(theirs.text);
  return (
    <ModalOverlay isOpen className="overlay" isKeyboardDismissDisabled>
      <Modal className="modal">
        <Dialog role="alertdialog">
          <Heading slot="title">{document.name} has changed on disk, and here</Heading>
          {unread ? (
            <p>What is on disk cannot be read: {unread.message}.</p>
          ) : changes.length === 0 ? (
            <p>No number differs: only how the file is written.</p>
          ) : (
            <table>
              <thead>
                <tr>
                  <th scope="col">key</th>
                  <th scope="col">on disk</th>
                  <th scope="col">here</th>
                </tr>
              </thead>
              <tbody>
                {changes.map(({ key, was, is }) => (
                  <tr key={key}>
                    <th scope="row">{key}</th>
                    <td>{wordOf(was)}</td>
                    <td>{wordOf(is)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <p>Nothing is written before you decide. Keeping what is here writes nothing either: it is saved when you save it.</p>
          <div className="set">
            <Button onPress={() => loft.files.decide(false)}>Take what is on disk</Button>
            <Button onPress={() => loft.files.decide(true)}>Keep what is here</Button>
          </div>
        </Dialog>
      </Modal>
    </ModalOverlay>
  );
} // prettier-ignore
