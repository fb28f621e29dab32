import { OPPOSED, type Opposed } from 'apperin';
import { DEFAULT_KEYS, type KeyboardDriver, type KeyBindings } from 'apperin/browser';

/** What the menu can ask for. */
export interface MenuActions {
  pause(on: boolean): void;
  again(): void;
  save(): void;
  show(on: boolean): void;
  sound(on: boolean): void;
  speed(value: number): void;
  oppose(rule: Opposed): void;
}

const STORE = 'tide-mill';

/** What was chosen in an earlier game. */
export function stored(): { keys: KeyBindings; opposed: Opposed } {
  try {
    const { keys, opposed } = JSON.parse(localStorage.getItem(STORE) ?? '{}') as {
      keys?: KeyBindings;
      opposed?: Opposed;
    };
    return { keys: { ...DEFAULT_KEYS, ...keys }, opposed: OPPOSED.find((one) => one === opposed) ?? 'latest' };
  } catch {
    return { keys: DEFAULT_KEYS, opposed: 'latest' };
  }
}

/** The pause menu: Escape or P opens and closes it. Keys are bound anew in it. */
export function menu(keys: KeyboardDriver, actions: MenuActions): void {
  const find = <E extends HTMLElement>(id: string): E => document.querySelector<E>(`#${id}`)!;
  const dialog = find<HTMLDialogElement>('menu');
  const list = find('keys');
  /** The action that waits for its new key. */
  let waiting = '';

  const rule = find<HTMLSelectElement>('opposed');
  const store = (): void => localStorage.setItem(STORE, JSON.stringify({ keys: keys.keys, opposed: rule.value }));

  const fill = (): void => {
    list.replaceChildren(
      ...Object.entries(keys.keys).map(([action, codes]) => {
        const item = document.createElement('li');
        const button = document.createElement('button');
        button.type = 'button';
        button.dataset.action = action;
        button.textContent = waiting === action ? 'press a key …' : codes.join(', ');
        button.setAttribute('aria-label', `${action}: ${codes.join(', ')}`);
        button.addEventListener('click', () => {
          waiting = action;
          fill();
          list.querySelector<HTMLElement>(`[data-action="${action}"]`)!.focus();
        });
        item.append(action, button);
        return item;
      }),
    );
  };
  const open = (): void => {
    if (dialog.open) return;
    fill();
    dialog.showModal();
    actions.pause(true);
  };
  const close = (): void => {
    waiting = '';
    dialog.close();
    actions.pause(false);
  };
  // Closed by the browser's own means, such as a back gesture.
  dialog.addEventListener('cancel', (event) => {
    event.preventDefault();
    close();
  });
  addEventListener(
    'keydown',
    (event) => {
      if (waiting !== '') {
        event.preventDefault();
        event.stopImmediatePropagation();
        if (event.code !== 'Escape') {
          // A key serves one action: the others lose it.
          const others = Object.entries(keys.keys).map(([action, codes]) => [action, codes.filter((code) => code !== event.code)]);
          keys.keys = { ...Object.fromEntries(others), [waiting]: [event.code] };
          store();
        }
        const chosen = waiting;
        waiting = '';
        fill();
        list.querySelector<HTMLElement>(`[data-action="${chosen}"]`)!.focus();
      } else if (event.code === 'KeyP' || event.code === 'Escape') {
        event.preventDefault();
        if (dialog.open) close();
        else open();
      }
    },
    true,
  ); // prettier-ignore
  find('pause').addEventListener('click', open);
  find('resume').addEventListener('click', close);
  find('again').addEventListener('click', () => {
    actions.again();
    close();
  });
  find('save').addEventListener('click', () => actions.save());
  find<HTMLInputElement>('show').addEventListener('change', ({ target }) => actions.show((target as HTMLInputElement).checked)); // prettier-ignore
  find<HTMLInputElement>('sound').addEventListener('change', ({ target }) => actions.sound((target as HTMLInputElement).checked)); // prettier-ignore
  find<HTMLInputElement>('speed').addEventListener('input', ({ target }) => actions.speed(Number((target as HTMLInputElement).value))); // prettier-ignore
  rule.value = stored().opposed;
  rule.addEventListener('change', () => {
    store();
    actions.oppose(rule.value as Opposed);
  });
}
