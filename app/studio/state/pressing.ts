/** Whether a pointer is pressed anywhere: what is dragged is one gesture, however slowly it goes. */
let down = false;

if (typeof window !== 'undefined') {
  window.addEventListener('pointerdown', () => (down = true), true);
  for (const end of ['pointerup', 'pointercancel', 'blur']) window.addEventListener(end, () => (down = false), true);
}

export const isPressed = () => down;
