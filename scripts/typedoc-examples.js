// What is no function has the example of one that takes or gives it, or of what it is a part of.
import { Comment, CommentTag, Converter, ReflectionKind } from 'typedoc';

const TYPES = ReflectionKind.Interface | ReflectionKind.TypeAlias | ReflectionKind.Class;

/** The example in a comment. */
const exampleIn = (comment) => comment?.getTag('@example');

/** Everything that a type names, of its own or within. */
function namedIn(value, found = new Set(), seen = new Set()) {
  if (typeof value !== 'object' || value === null || seen.has(value)) return found;
  seen.add(value);
  if (value.type === 'reference') {
    if (value.reflection) found.add(value.reflection);
    for (const one of value.typeArguments ?? []) namedIn(one, found, seen);
    return found;
  }
  // Of a reflection only what it is made of, not where it stands.
  for (const [key, one] of Object.entries(value))
    if (!['parent', 'project', 'comment', 'sources', 'reflection', '_project'].includes(key))
      for (const part of Array.isArray(one) ? one : [one]) namedIn(part, found, seen);
  return found;
}

export function load(app) {
  app.converter.on(Converter.EVENT_RESOLVE_END, (context) => {
    const { project } = context;
    /** By what has an example: its name, and the example. */
    const known = new Map();
    const givers = new Map();
    const users = new Map();
    const note = (map, named, one) => void map.set(named, [...(map.get(named) ?? []), one]);
    const exported = project.getReflectionsByKind(ReflectionKind.Function | ReflectionKind.Variable | TYPES);
    for (const one of exported) {
      const own = exampleIn(one.comment) ?? (one.signatures ?? []).map(({ comment }) => exampleIn(comment)).find(Boolean);
      if (own) known.set(one, { name: one.name, tag: own });
      for (const named of namedIn((one.signatures ?? []).map(({ type }) => type))) note(givers, named, one);
      for (const named of namedIn(one.signatures ?? one.type ?? [one.children, one.typeHierarchy, one.indexSignatures])) note(users, named, one);
    }
    // Nearest first: what gives it, what takes it, then what is made of it, or what it is made of.
    for (let grew = true; grew;) {
      grew = false;
      for (const one of project.getReflectionsByKind(TYPES)) {
        if (known.has(one)) continue;
        const beside = [...(givers.get(one) ?? []), ...(users.get(one) ?? []), ...namedIn([one.type, one.children])].find((other) => known.has(other));
        if (!beside) continue;
        known.set(one, known.get(beside));
        grew = true;
      }
    }
    for (const one of project.getReflectionsByKind(TYPES)) {
      if (exampleIn(one.comment)) continue;
      const found = known.get(one);
      if (!found) {
        if (one.comment) app.logger.warn(`${one.getFriendlyFullName()} has no example, and nothing that takes or gives it has one`);
        continue;
      }
      one.comment ??= new Comment();
      one.comment.blockTags.push(new CommentTag('@example', [{ kind: 'text', text: `As with \`${found.name}\`:\n\n` }, ...found.tag.content]));
    }
  });
} // prettier-ignore
