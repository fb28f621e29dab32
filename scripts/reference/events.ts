import { readFileSync } from 'node:fs';
import { EVENTS, EVENT_FIELDS, EVENT_MEANINGS } from 'apperin';
import ts from 'typescript';
import { table } from './page.js';

const SOURCE = new URL('../../src/core/trace/events.ts', import.meta.url);

/** Each event: when it is told, and what it carries. */
export function eventsPage(): string {
  const fields = fieldsOf();
  const special = new Set(Object.values(EVENT_FIELDS).flat() as string[]);
  const shared = [...fields].filter(([name]) => !special.has(name));
  const events = EVENTS.map((event) => `## ${event}\n\n${EVENT_MEANINGS[event][0]!.toUpperCase()}${EVENT_MEANINGS[event].slice(1)}.${EVENT_FIELDS[event] ? `\n\n${rowsOf(EVENT_FIELDS[event].map((name) => [name, ofEvent(fields.get(name)!, event)]))}` : ''}`);
  return `# Events

\`hero.on('touchdown', (event, who) => …)\` hears one of these, \`stage.listen((event, who) => …)\` all of them, each at its very moment; in files they are [lines of JSON](../traces.md). In which order they come at one moment is said in [the order of a tick](../order-of-a-tick.md).

Every event carries:

${rowsOf(shared)}

Events that abilities of a game declare carry these and no more.

${events.join('\n\n')}
`;
} // prettier-ignore

/** What is said of a field for that event: comments name the events that a part is about. */
function ofEvent({ type, about }: Field, event: string): Field {
  const parts = about.replace(/\.$/, '').split(/; (?=\w+(?:, \w+)*: )/).map((part) => /^((?:\w+, )*\w+): (.*)$/s.exec(part) ?? ['', '', part]);
  const [, , mine] = parts.find(([, events]) => events!.split(', ').includes(event)) ?? parts[0]!;
  return { type, about: `${mine![0]!.toUpperCase()}${mine!.slice(1)}.` };
} // prettier-ignore

interface Field {
  type: string;
  about: string;
}

const rowsOf = (fields: readonly (readonly [string, Field])[]): string =>
  table(['field', 'type', 'what it is'], fields.map(([name, { type, about }]) => [`\`${name}\``, type, about])); // prettier-ignore

/** The fields of an event, with what their comments say; one without a comment goes with the one before. */
function fieldsOf(): Map<string, Field> {
  const file = ts.createSourceFile('events.ts', readFileSync(SOURCE, 'utf8'), ts.ScriptTarget.ES2022, true);
  const found = new Map<string, Field>();
  let about = '';
  for (const statement of file.statements) {
    if (!ts.isInterfaceDeclaration(statement) || statement.name.text !== 'StageEvent') continue;
    for (const member of statement.members as ts.NodeArray<ts.PropertySignature>) {
      const [doc] = ts.getJSDocCommentsAndTags(member);
      const text = doc && ts.isJSDoc(doc) ? (ts.getTextOfJSDocComment(doc.comment) ?? '') : undefined;
      if (doc?.getText().includes('@internal')) continue;
      about = text ?? about;
      const type = member.type!.getText().replace(/\s+/g, ' ').replace('readonly ', '');
      found.set(member.name.getText(), { type: type.includes("'") ? type.replaceAll("'", '`').replace(' | ``', ' or none').replaceAll(' | ', ', ') : type, about });
    }
  }
  return found;
} // prettier-ignore
