import type { Ability, Motion, NumberKey } from 'apperin';
import type { KeyBindings } from 'apperin/browser';
import { missingAbilities, ownTable, takeAbilities, withoutMissing } from 'apperin/lab';

/** Keys that play what a game's own abilities listen to, where no file of keys says which. */
const FREE = ['KeyK', 'KeyL', 'KeyJ', 'KeyI', 'KeyO', 'KeyU', 'KeyP', 'KeyH', 'KeyY', 'KeyN', 'KeyM', 'KeyB'];

/** What a game's own abilities bring: numbers to set, actions to play, the motion itself. */
export class OwnAbilities {
  list: readonly Ability[] = [];
  /** Their numbers, as keys of a tuning. */
  keys: readonly NumberKey[] = [];
  actions: readonly string[] = [];

  /**
   * Runs modules, in place of those that were there.
   * @param addresses of the modules
   * @returns what is wrong, where something is; what could be read counts all the same
   */
  async load(addresses: readonly { name: string; href: string }[]): Promise<string> {
    const list: Ability[] = [];
    let wrong = '';
    for (const { name, href } of addresses)
      try {
        takeAbilities((await import(/* @vite-ignore */ href)) as Record<string, unknown>, list);
      } catch (error) {
        wrong = `${name}: ${(error as Error).message}`;
      }
    this.list = list;
    this.actions = list.flatMap(({ spec }) => spec.actions ?? []);
    this.keys = list.flatMap(({ name, spec }) =>
      Object.entries(ownTable(spec)).map(([key, given]): NumberKey => {
        const {
          value,
          least = 0,
          most = Infinity,
          unit = 'count',
        } = typeof given === 'number' ? { value: given } : given;
        return { key: `own.${name}.${key}`, unit, default: value, least, most };
      }),
    );
    return wrong;
  }

  /** The tuning as it is played here: with every number of those that are known, without those of others. */
  known(motion: Motion): { motion: Motion; missing: readonly string[] } {
    const missing = missingAbilities(motion, this.list);
    const { full } = withoutMissing(motion, this.list);
    if (this.list.length === 0) return { motion: full === motion.full ? motion : { ...motion, full }, missing };
    const own = Object.fromEntries(
      this.list.map(({ name, spec }) => [name, { ...defaultsOf(spec), ...full.own[name] }]),
    );
    return { motion: { ...motion, full: { ...full, own } }, missing };
  }

  /** Keys for every action that has none. */
  bound(keys: KeyBindings): KeyBindings {
    const taken = new Set(Object.values(keys).flat());
    const free = FREE.filter((code) => !taken.has(code));
    const open = this.actions.filter((action) => keys[action] === undefined);
    return {
      ...keys,
      ...Object.fromEntries(open.flatMap((action, i) => (free[i] === undefined ? [] : [[action, [free[i]]]]))),
    };
  }
}

function defaultsOf(spec: Ability['spec']): Record<string, number> {
  return Object.fromEntries(
    Object.entries(ownTable(spec)).map(([key, given]) => [key, typeof given === 'number' ? given : given.value]),
  );
}
