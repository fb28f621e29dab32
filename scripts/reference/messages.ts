import { fileURLToPath } from 'node:url';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';
import { RULES } from 'apperin/lab';
import { ADVICE, adviceFor } from './advice.js';
import { table } from './page.js';

const SRC = fileURLToPath(new URL('../../src/', import.meta.url));

interface Section {
  title: string;
  /** Files whose messages belong here, by the beginning of their paths. */
  of: readonly string[];
  /** What to do about them. */
  advice: string;
}

const SECTIONS: readonly Section[] = [
  {
    title: 'Tunings',
    of: ['core/tuning/', 'core/arc/', 'files/tuning', 'files/edit-tuning', 'files/frames'],
    advice: 'Of a file, the place comes before it, with the line and a mark under the column; in code it is a `TuningError` with the key. Change the number that is named to what is allowed; of goals that contradict each other leave one out. What each key may be: [keys of a tuning](keys.md).',
  },
  {
    title: 'Levels',
    of: ['core/terrain/', 'core/movers/', 'files/level', 'files/cells', 'files/grid', 'files/movers', 'files/pieces', 'files/svg/', 'files/convert/', 'lab/survey/without'],
    advice: 'Of a file with line and column; in code a `LevelError` with the path of what is wrong (`marks.=.solid`). Words that are not known come with the nearest that is. [Level files](../levels.md).',
  },
  {
    title: 'Inputs, key bindings, promises, captures, searches',
    of: ['files/'],
    advice: 'With line and column. Nothing of such a file is used until all of it is right. [Inputs](../inputs.md), [key bindings](../keys.md), [promises](../lab.md#promises), [captures](../fit.md#what-is-read), [searches](../search.md#the-file); [how much is read](../files.md#what-readers-refuse).',
  },
  {
    title: 'Abilities of a game',
    of: ['core/abilities/'],
    advice: 'What an ability declares must be what it then uses: list its timers, slots, events, poses and actions. The tick in which it throws has not happened, so it can be mended and gone on with. [Your own](../abilities.md#your-own).',
  },
  {
    title: 'Calls of a game',
    of: ['core/', 'browser/'],
    advice: 'A `RangeError` that names the argument, what it was, and what it must be. Nothing has been changed by such a call. [The library](../library.md), [playing it](../playing.md).',
  },
  {
    title: 'Questions',
    of: ['lab/'],
    advice: 'A `RangeError` (of captures a `CaptureError`) that names the option, what it was, and what it must be. [The lab](../lab.md).',
  },
  {
    title: 'The command line',
    of: ['cli/'],
    advice: 'On standard error, with exit status 2: nothing was written. `apperin help COMMAND` says what a command takes.',
  },
  {
    title: 'Files on disk',
    of: ['disk/'],
    advice: 'A file is [written whole or not at all](../files.md#nothing-is-lost): make room, or name another file, and call again.',
  },
  {
    title: 'Figures',
    of: ['figures/'],
    advice: 'A `RangeError` that says what the figure can show.',
  },
  {
    title: 'The Loft and the plugin',
    of: ['loft/', 'vite/'],
    advice: 'Shown on the page, beside what they are about; the last state that was good stays in force.',
  },
]; // prettier-ignore

/** What hands a message on, besides errors that are thrown. */
const HANDS_ON = /^(?:wrong|refuse|fail|bad|problem|must|check)\w*$/;

/** Every message that is made in the sources: each a text with names for what is put in. */
export function messagesPage(): string {
  const found = messagesOf();
  const taken = new Set<string>();
  const parts = SECTIONS.map(({ title, of, advice }) => {
    const mine = new Set<string>();
    for (const [file, texts] of found) {
      if (taken.has(file) || !of.some((beginning) => file.startsWith(beginning))) continue;
      taken.add(file);
      for (const text of texts) mine.add(text);
    }
    const said = [...mine].sort((one, other) => plain(one).localeCompare(plain(other), 'en'));
    return `## ${title}\n\n${advice}\n\n${said.map((text) => `- ${text}${advised(text)}`).join('\n')}`;
  });
  const left = [...found.keys()].filter((file) => !taken.has(file));
  if (left.length > 0) throw new Error(`messages of no section: ${left.join(', ')}`);
  const all = [...found.values()].flat().map(plain);
  const stale = ADVICE.filter(([about]) => !all.some((text) => about.test(text)));
  if (stale.length > 0) throw new Error(`advice for no message: ${stale.map(([about]) => String(about)).join(', ')}`);
  const rules = table(['of', 'what is said'], RULES.map(({ key, look }) => [`\`${key}\``, [...new Set(textsIn(look.toString()))].join(' ')]));
  return `# Messages

Every message says what is wrong, what it was, and what it must be or what to do. Words in *italics* stand for what is put in; where the message does not say what to do itself, that stands behind the arrow. Look here for a part of one; \`Ctrl+F\` finds it.

${parts.join('\n\n')}

## What \`apperin check\` says of a tuning

Nothing of this is an error. Why each is said: [what feels wrong](../feel.md#what-apperin-check-warns-about).

${rules}
`;
} // prettier-ignore

/** What to do about a message, after it. */
function advised(text: string): string {
  const advice = adviceFor(plain(text));
  if (advice === undefined) throw new Error(`nothing is said of what to do about: ${plain(text)}`);
  return advice === '' ? '' : ` → ${advice}`;
}

const plain = (text: string): string => text.replace(/[*\\]/g, '');

/** The messages of each file, in the form that they are shown in. */
function messagesOf(): Map<string, string[]> {
  const files = readdirSync(SRC, { recursive: true, encoding: 'utf8' }).filter((name) => /\.tsx?$/.test(name)).sort(); // prettier-ignore
  const found = new Map<string, string[]>();
  for (const name of files) {
    const file = ts.createSourceFile(name, readFileSync(join(SRC, name), 'utf8'), ts.ScriptTarget.ES2022, true);
    const texts: string[] = [];
    const look = (node: ts.Node): void => {
      if (ts.isNewExpression(node) && /Error$/.test(node.expression.getText())) texts.push(...longest(node.arguments));
      else if (ts.isCallExpression(node) && isHandedOn(node)) texts.push(...longest(node.arguments).map(whole));
      ts.forEachChild(node, look);
    };
    look(file);
    // Of what nobody sees, an error of the library itself, nothing is to be said.
    const said = texts
      .map((text) => text.replace(/(?<=\S)\*…\*/g, ' …').trim())
      .filter((text) => text.includes(' ') && !text.startsWith('*…'));
    if (said.length > 0) found.set(name, said);
  }
  return found;
}

/** What is handed on as that which something must be, with what goes before it. */
function whole(text: string): string {
  return / (?:is|has|are|have|lies?|holds?|reaches|must|cannot|needs?|encloses|would|begins)\b|;|:/.test(text) || !/^(?:an? |above|at least|within|-1|\\\[|two|boxes|movers|the |higher)/.test(text) ? text : `*name* is *value*; it must be ${text}`;
} // prettier-ignore

function isHandedOn({ expression }: ts.CallExpression): boolean {
  if (ts.isIdentifier(expression)) return HANDS_ON.test(expression.text);
  if (!ts.isPropertyAccessExpression(expression)) return false;
  const { name, expression: of } = expression;
  return (
    HANDS_ON.test(name.text) || (/problems$/i.test(of.getText()) && (name.text === 'at' || name.text === 'offset'))
  );
}

/** The longest text among the arguments of a call. */
function longest(given: ts.NodeArray<ts.Expression> | undefined): string[] {
  const texts = (given ?? []).flatMap((one) => textsOf(one));
  const most = Math.max(0, ...texts.map(({ length }) => length));
  return texts.filter((text) => text.includes(' ') && (text.length === most || text.length > 24));
}

/** The texts that an expression may be: of a choice, both. */
function textsOf(node: ts.Expression): string[] {
  if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) return [safe(node.text)];
  if (ts.isConditionalExpression(node)) return [...textsOf(node.whenTrue), ...textsOf(node.whenFalse)];
  if (ts.isParenthesizedExpression(node)) return textsOf(node.expression);
  if (!ts.isTemplateExpression(node)) return [];
  return [safe(node.head.text) + node.templateSpans.map(({ expression, literal }) => put(expression) + safe(literal.text)).join('')];
} // prettier-ignore

/** What stands for something that is put in. */
function put(node: ts.Expression): string {
  if (ts.isIdentifier(node)) return /^[A-Z_]+$/.test(node.text) ? `*${node.text.toLowerCase().replaceAll('_', ' ')}*` : `*${node.text}*`;
  if (ts.isPropertyAccessExpression(node)) return node.name.text === 'message' ? '*why*' : node.name.text === 'length' ? `*number of ${last(node.expression)}*` : `*${node.name.text}*`;
  if (ts.isCallExpression(node)) {
    const { expression, arguments: given } = node;
    if (ts.isPropertyAccessExpression(expression) && expression.name.text === 'join') return `*${last(expression.expression)}*`;
    return given[0] ? put(given[0]) : '*…*';
  }
  if (ts.isConditionalExpression(node)) return '*…*';
  if (ts.isBinaryExpression(node)) return put(node.left);
  return '*…*';
} // prettier-ignore

/** The name that an expression ends with, in lower case. */
function last(node: ts.Expression): string {
  const [name = '…'] = /\w+(?=\W*$)/.exec(node.getText().split(/[(\n]/, 1)[0]!) ?? [];
  return name.toLowerCase();
}

/** Marks of Markdown as they are. */
const safe = (text: string): string => text.replaceAll('\n', ' ').replace(/[*_<>`[\]{}|\\]/g, '\\$&');

/** Texts within the source of a rule. */
function textsIn(source: string): string[] {
  const file = ts.createSourceFile('rule.ts', `const rule = { ${source.startsWith('look') ? source : `look: ${source}`} }`, ts.ScriptTarget.ES2022, true);
  const texts: string[] = [];
  const look = (node: ts.Node): void => {
    if (ts.isStringLiteral(node) || ts.isTemplateExpression(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      const [text] = textsOf(node);
      if (text?.includes(' ')) texts.push(`${text}.`);
    } else ts.forEachChild(node, look);
  };
  look(file);
  return texts;
} // prettier-ignore
