import { useState } from 'react';

/**
 * Where the focus goes when a dialog closes: to what had it before, or, when that was an entry of a menu that is gone, to the
 * button of that menu. For a dialog's `onCloseAutoFocus`.
 */
export function useReturnFocus(): (event: Event) => void {
  const [opener] = useState(openerNow);
  return (event) => {
    if (!opener?.isConnected) return;
    event.preventDefault();
    opener.focus();
  };
}

function openerNow(): HTMLElement | null {
  const now = document.activeElement;
  if (!(now instanceof HTMLElement) || now === document.body) return null;
  const menu = now.closest('[role="menu"]');
  return menu ? document.getElementById(menu.getAttribute('aria-labelledby') ?? '') : now;
}
