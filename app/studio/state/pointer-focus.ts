/**
 * Keys keep working after the pointer pressed something: what the pointer gave the focus to lets go of it again, unless
 * one types in it, moves it by keys, or chooses from it. What the keyboard came to keeps the focus.
 */
import { useEffect } from 'react';

const KEEPS = [
  'input:not([type="checkbox"]):not([type="radio"])',
  'textarea',
  'select',
  'canvas',
  '[role="slider"]',
  '[role="menu"]',
  '[role="dialog"]',
  '[role="listbox"]',
  '[contenteditable="true"]',
].join(', ');

let held: Element | null = null;
/** Whether something has the focus only because the pointer pressed it, and is about to let go of it. */
export const heldByPointer = (target: EventTarget | null) => held !== null && target === held;

export function usePointerFocus() {
  useEffect(() => {
    let pointer = false;
    const press = () => void (pointer = true);
    const type = () => void (pointer = false);
    const letGo = (element: Element) =>
      requestAnimationFrame(() => document.activeElement === element && (element as HTMLElement).blur());
    const focus = (e: FocusEvent) => {
      held = pointer && e.target instanceof Element && !e.target.closest(KEEPS) ? e.target : null;
      if (held) letGo(held);
    };
    // A list keeps the focus until something was chosen from it.
    const chosen = (e: Event) => {
      if (pointer && e.target instanceof HTMLSelectElement) letGo(e.target);
    };
    window.addEventListener('pointerdown', press, true);
    window.addEventListener('keydown', type, true);
    window.addEventListener('focusin', focus);
    window.addEventListener('change', chosen);
    return () => {
      window.removeEventListener('pointerdown', press, true);
      window.removeEventListener('keydown', type, true);
      window.removeEventListener('focusin', focus);
      window.removeEventListener('change', chosen);
    };
  }, []);
}
