/**
 * Whether a pointer is pressed anywhere: what is dragged is one gesture, however slowly it goes. Where it is let go belongs to
 * it too, so that it ends only after everybody has heard of that.
 */
let presses = 0;
let down = false;

if (typeof window !== 'undefined') {
  window.addEventListener(
    'pointerdown',
    () => {
      presses++;
      down = true;
    },
    true,
  );
  const end = ({ type, target }: Event) => {
    // An element that loses the focus, as one does that is pressed, ends nothing; only the window's loss of it does.
    if (type === 'blur' && target !== window) return;
    const ended = presses;
    // A press that has begun meanwhile is another one.
    setTimeout(() => void (ended === presses && (down = false)));
  };
  for (const name of ['pointerup', 'pointercancel', 'blur']) window.addEventListener(name, end, true);
}

export const isPressed = () => down;
