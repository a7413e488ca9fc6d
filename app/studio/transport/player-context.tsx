/** Joins the media clock to the Studio: the store's time moves the video, and the video's the store's. */
import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import { clockOf } from '@glimbo/core/time/clock';
import { present } from '@glimbo/core/take/history';
import { proxyFile, reachOf } from '~/model/footage';
import { Player } from '~/preview/player';
import { usePicture } from '../frame/picture';
import { useStudio, useStudioStore } from '../state/store';
import { useOriginal } from '../frame/useOriginal';

interface Controls {
  toggle(): void;
  pause(): void;
  /** J and L: faster in a direction with each press. */
  shuttle(direction: 1 | -1): void;
}

const PlayerContext = createContext<Controls>({ toggle() {}, pause() {}, shuttle() {} });
export const usePlayer = () => useContext(PlayerContext);

/** The version of the proxy that is played. A newer one, longer while it grows, waits until one stands still. */
function useProxyVersion() {
  const version = useStudio((s) => s.footage.version);
  const playing = useStudio((s) => s.speed !== 0);
  const [played, setPlayed] = useState(version);
  useEffect(() => void (playing || setPlayed(version)), [version, playing]);
  return played;
}

export function PlayerProvider({ children }: { children: ReactNode }) {
  const store = useStudioStore();
  const picture = usePicture();
  const id = useStudio((s) => s.footage.id);
  const playable = useStudio((s) => s.footage.gathered !== null);
  const version = useProxyVersion();
  const player = useRef<Player | null>(null);

  useEffect(() => {
    if (!playable) return;
    const { footage, time, setSpeed } = store.getState();
    let following = false;
    const made = new Player(
      `/media/footage/${footage.id}/${proxyFile(footage.gathered!)}?v=${version}`,
      footage.facts.rate,
      reachOf(footage),
      {
        picture(video, at, seeking) {
          picture.show(video, at);
          if (seeking && made.speed === 0) return;
          following = true;
          store.getState().setTime(at);
          following = false;
        },
        playing: setSpeed,
        problem(sentence) {
          // One that grew is not kept for ever: standing still, the newer one is taken.
          if (store.getState().footage.version !== version) setSpeed(0);
          else toast.error(sentence);
        },
      },
      time,
    );
    player.current = made;
    const match = () => {
      const take = present(store.getState().history);
      made.range = take.range;
      made.setReading(clockOf(take, footage.facts.rate).speed);
      made.loop = store.getState().loop;
    };
    match();
    const unsubscribe = store.subscribe((now, before) => {
      match();
      if (now.time === before.time || following) return;
      if (made.speed !== 0) made.pause();
      made.seek(now.time);
    });
    return () => {
      unsubscribe();
      made.dispose();
      player.current = null;
    };
  }, [store, picture, id, playable, version]);
  useOriginal();

  const controls = useMemo<Controls>(
    () => ({
      toggle() {
        const p = player.current;
        if (p) p.speed ? p.pause() : p.play(1, store.getState().time);
      },
      pause: () => player.current?.pause(),
      shuttle(direction) {
        const p = player.current;
        if (!p) return;
        const speed = p.speed * direction > 0 ? Math.max(-4, Math.min(4, p.speed * 2)) : direction;
        p.play(speed, store.getState().time);
      },
    }),
    [store],
  );
  return <PlayerContext.Provider value={controls}>{children}</PlayerContext.Provider>;
}
