import { SaxesParser } from 'saxes';
import { FileError, type Problems } from '../problem.js';

/** An element of a drawing, and where it stands in the file. */
export interface SvgElement {
  /** Its name without a prefix; empty for elements of other vocabularies. */
  name: string;
  attributes: Readonly<Record<string, string>>;
  children: SvgElement[];
  text: string;
  line: number;
  column: number;
  /** What it is in. */
  parent: SvgElement | undefined;
}

/** What is read of a drawing at most. */
export const SVG_LIMITS = { elements: 200_000, depth: 256 } as const;

const SVG = 'http://www.w3.org/2000/svg';

/**
 * Reads the elements of an SVG file. Entities that a file declares are not known; nothing outside the file is ever read.
 * @throws FileError at the first place where it is no well-formed XML, or beyond the limits
 */
export function parseSvg(text: string, problems: Problems): SvgElement {
  const parser = new SaxesParser({ xmlns: true, position: true });
  const open: SvgElement[] = [];
  let root: SvgElement | undefined;
  let count = 0;
  let start = { line: 1, column: 1 };
  const refuse = (message: string, at = start): never => {
    problems.at(at, message);
    problems.refuse();
    throw new FileError([]);
  };
  parser.on('error', (error) => {
    const message = error.message
      .slice(0, 400)
      .replace(/^(.*?:)?\d+:\d+: /, '')
      .replace(/\.$/, '');
    refuse(`this is not well-formed: ${message}`, { line: parser.line, column: Math.max(1, parser.columnIndex) });
  });
  parser.on('opentagstart', ({ name }) => {
    // The parser has just read the name, or one character behind it.
    const column = parser.columnIndex - name.length - 1;
    start = { line: parser.line, column: Math.max(1, column) };
  });
  parser.on('opentag', (tag) => {
    if (++count > SVG_LIMITS.elements) refuse(`the drawing has more than ${SVG_LIMITS.elements} elements`);
    if (open.length >= SVG_LIMITS.depth) refuse(`elements are nested more than ${SVG_LIMITS.depth} deep`);
    const attributes: Record<string, string> = {};
    for (const attribute of Object.values(tag.attributes)) {
      const { local, prefix, value } = attribute;
      if (prefix === '' || local === 'href') attributes[local] = value;
    }
    const element: SvgElement = {
      name: tag.uri === SVG || tag.uri === '' ? tag.local : '',
      attributes,
      children: [],
      text: '',
      ...start,
      parent: open.at(-1),
    };
    open.at(-1)?.children.push(element);
    root ??= element;
    open.push(element);
  });
  parser.on('closetag', () => void open.pop());
  parser.on('text', (data) => {
    const at = open.at(-1);
    if (at) at.text += data;
  });
  parser.write(text).close();
  if (!root) return refuse('the file holds no element');
  if (root.name !== 'svg') refuse(`the outermost element is ${root.name || 'no element of SVG'}; it must be svg`, root);
  return root;
}
