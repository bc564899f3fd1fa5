import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { steadyPresses } from '../src/ui/steadyPress';

let end: () => void;
let button: HTMLButtonElement;
let text: HTMLElement;
const pressed = vi.fn();

beforeEach(() => {
  document.body.innerHTML = '<p>text</p><button>Rename</button>';
  button = document.querySelector('button')!;
  text = document.querySelector('p')!;
  pressed.mockReset();
  button.onclick = pressed;
  standsAt(100);
  end = steadyPresses(document);
});

afterEach(() => end());

const standsAt = (top: number) => {
  button.getBoundingClientRect = () => new DOMRect(10, top, 80, 20);
};

const pointer = (kind: string, on: Element, x: number, y: number, more: PointerEventInit = {}) =>
  on.dispatchEvent(
    new PointerEvent(kind, { bubbles: true, isPrimary: true, button: 0, clientX: x, clientY: y, ...more }),
  );

test('a button that moves away between press and release is pressed', () => {
  pointer('pointerdown', button, 20, 110);
  standsAt(200);
  pointer('pointerup', text, 21, 111);
  expect(pressed).toHaveBeenCalledOnce();
});

test('one that stays is the browser’s to press, not a second time ours', () => {
  pointer('pointerdown', button, 20, 110);
  pointer('pointerup', button, 20, 110);
  expect(pressed).not.toHaveBeenCalled();
});

test('what hangs out of a button is still the button, for the browser to press', () => {
  const badge = button.appendChild(document.createElement('span'));
  pointer('pointerdown', badge, 95, 95);
  pointer('pointerup', badge, 95, 95);
  expect(pressed).not.toHaveBeenCalled();
});

test('a change of mind is none: the pointer goes elsewhere before it is let go', () => {
  pointer('pointerdown', button, 20, 110);
  pointer('pointerup', text, 20, 10);
  expect(pressed).not.toHaveBeenCalled();
});

test.each([
  ['with another button of the mouse', { button: 2 }],
  ['with a key that opens elsewhere', { ctrlKey: true }],
  ['with the key that downloads', { altKey: true }],
  ['of a second finger', { isPrimary: false }],
])('a press %s stays as it is', (_, more) => {
  pointer('pointerdown', button, 20, 110, more);
  standsAt(200);
  pointer('pointerup', text, 20, 110, more);
  expect(pressed).not.toHaveBeenCalled();
});

test('nothing is pressed that is gone, nor after the browser took the pointer to scroll', () => {
  pointer('pointerdown', button, 20, 110);
  pointer('pointercancel', button, 20, 110);
  standsAt(200);
  pointer('pointerup', text, 20, 110);
  pointer('pointerdown', button, 20, 210);
  button.remove();
  pointer('pointerup', text, 20, 210);
  expect(pressed).not.toHaveBeenCalled();
});
