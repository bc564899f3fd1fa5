/** Whether the key for commands is the one of a Mac. */
export const isMac = navigator.platform.startsWith('Mac');

/** A key as it stands on a keyboard: Ctrl+Shift+F. */
export const written = (key: string) =>
  key
    .split(' ')
    .map((press) =>
      press
        .split('-')
        .map(
          (part) =>
            ({ Mod: isMac ? '⌘' : 'Ctrl', Alt: isMac ? '⌥' : 'Alt', ArrowUp: '↑', ArrowDown: '↓' })[part] ?? part,
        )
        .map((part) => (/^[a-z]$/.test(part) ? part.toUpperCase() : part))
        .join('+'),
    )
    .join(', ');
