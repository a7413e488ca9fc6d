/** Keys that do something for as long as they are held: B shows the picture as it was filmed. */
import { useEffect } from 'react';
import { useStudioStore } from '../state/store';

export function useHeldKeys(typing: (e: KeyboardEvent) => boolean) {
  const store = useStudioStore();
  useEffect(() => {
    const hold = (held: boolean) => (e: KeyboardEvent) => {
      if (e.key.toLowerCase() !== 'b' || e.repeat || e.ctrlKey || e.metaKey || (held && typing(e))) return;
      store.getState().showAsFilmed(held);
    };
    const [down, up] = [hold(true), hold(false)];
    const letGo = () => store.getState().showAsFilmed(false);
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', letGo);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', letGo);
    };
  }, [store, typing]);
}
