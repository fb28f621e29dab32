/** Names of `KeyboardEvent.code` on common keyboards, as the W3C's UI Events code values have them. */
export const KEY_CODES: readonly string[] = [
  ...[...'ABCDEFGHIJKLMNOPQRSTUVWXYZ'].map((letter) => `Key${letter}`),
  ...[...'0123456789'].flatMap((digit) => [`Digit${digit}`, `Numpad${digit}`]),
  ...Array.from({ length: 24 }, (_, i) => `F${i + 1}`),
  ...['Left', 'Right', 'Up', 'Down'].map((way) => `Arrow${way}`),
  ...['Shift', 'Control', 'Alt', 'Meta'].flatMap((key) => [`${key}Left`, `${key}Right`]),
  ...'Add Subtract Multiply Divide Decimal Enter Equal Comma'.split(' ').map((key) => `Numpad${key}`),
  ...'Space Enter Tab Escape Backspace Delete Insert Home End PageUp PageDown CapsLock NumLock ScrollLock Pause'.split(' '),
  ...'PrintScreen ContextMenu Minus Equal BracketLeft BracketRight Backslash Semicolon Quote Backquote Comma'.split(' '),
  ...'Period Slash IntlBackslash IntlRo IntlYen Convert NonConvert KanaMode Lang1 Lang2'.split(' '),
]; // prettier-ignore
