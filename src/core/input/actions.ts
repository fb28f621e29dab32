/**
 * The actions every character knows, by number.
 * @example
 * ```ts
 * ACTIONS[4] // 'jump'
 * ```
 */
export const ACTIONS = ['left', 'right', 'up', 'down', 'jump', 'glide', 'walk', 'move'] as const;
/** One of these, or one that an ability of the game declares. */
export type Action = (typeof ACTIONS)[number];

/** Numbers of actions: those that every character knows, then those of abilities in the order in which they were first named. */
const names: string[] = [...ACTIONS];

/** The most actions there can be in one program. */
export const MOST = 200;

/**
 * The number that a driver pushes for an action.
 * @throws RangeError where there are too many
 * @example
 * ```ts
 * actionNumber('jump')
 * ```
 */
export function actionNumber(name: string): number {
  const known = names.indexOf(name);
  if (known >= 0) return known;
  if (names.length === MOST) throw new RangeError(`${name} would be one more than the ${MOST} actions there can be`);
  return names.push(name) - 1;
}

/** The number of an action, or −1 where no ability has named it. */
export function knownAction(name: string): number {
  return names.indexOf(name);
}

/** How many actions have been named. */
export function actionCount(): number {
  return names.length;
}

/**
 * The name of an action by the number that a driver pushes; empty where there is none.
 * @example
 * ```ts
 * actionName(0) // 'left'
 * ```
 */
export function actionName(number: number): string {
  return names[number] ?? '';
}

/** The names of all actions, by number. */
export function allActions(): readonly string[] {
  return names;
}
