import { commandsPage } from './commands.js';
import { eventsPage } from './events.js';
import { formatsPage } from './formats.js';
import { keysPage } from './keys.js';
import { messagesPage } from './messages.js';

/** The pages of the reference that are made of the program itself, by their names. */
export const PAGES: Readonly<Record<string, () => string>> = {
  'keys.md': keysPage,
  'events.md': eventsPage,
  'commands.md': commandsPage,
  'formats.md': formatsPage,
  'messages.md': messagesPage,
};
