/** Joins the media clock to the Studio: the store's time moves the video, and the video's the store's. */
import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import { useShallow } from 'zustand/react/shallow';
import { present } from '@glimbo/core/document/history';
import { isWhole, proxyFile } from '~/model/footage';
import { playsOriginal } from '~/preview/direct';
import { Player } from '~/preview/player';
import { usePicture } from '../picture/picture';
import type { StudioState } from '../state/state';
import { playableIn, useStudio, useStudioStore } from '../state/store';
import { Pacer } from './pacer';
import { useOriginal } from '../picture/useOriginal';

interface Controls {
  toggle(): void;
  pause(): void;
  /** J and L: faster in a direction with each press. */
  shuttle(direction: 1 | -1): void;
  /** Plays forwards at a speed. */
  playAt(speed: number): void;
}

const PlayerContext = createContext<Controls>({ toggle() {}, pause() {}, shuttle() {}, playAt() {} });
export const usePlayer = () => useContext(PlayerContext);

/** What is played, and how many seconds of it there are. */
interface Played {
  address: string;
  reach: number;
}

/** The proxy as far as it is there; before it is whole, the original where the browser plays that by itself, or a companion. */
function playedNow(s: StudioState): Played | null {
  const { id, gathered, version } = s.footage;
  if (s.playsOriginal) return { address: `/media/footage/${id}/original`, reach: playableIn(s) };
  if (gathered?.companion) return { address: `/media/footage/${id}/companion.mp4`, reach: playableIn(s) };
  return gathered && { address: `/media/footage/${id}/${proxyFile(gathered)}?v=${version}`, reach: playableIn(s) };
}

/** What is played. Something newer, such as a proxy that grew, waits until one stands still. */
function usePlayed(): Played | null {
  const now = useStudio(useShallow(playedNow));
  const playing = useStudio((s) => s.speed !== 0);
  const [played, setPlayed] = useState(now);
  useEffect(() => void (playing || setPlayed(now)), [now, playing]);
  return played;
}

/** Finds out whether the original can be played, as long as there is no whole proxy. */
function useOriginalPlayed() {
  const store = useStudioStore();
  const id = useStudio((s) => s.footage.id);
  const whole = useStudio((s) => isWhole(s.footage));
  useEffect(() => {
    const { footage, playOriginal } = store.getState();
    if (whole) return playOriginal(false);
    let gone = false;
    void playsOriginal(footage).then((plays) => void (gone || playOriginal(plays)));
    return () => void (gone = true);
  }, [store, id, whole]);
}

export function PlayerProvider({ children }: { children: ReactNode }) {
  const store = useStudioStore();
  const picture = usePicture();
  useOriginalPlayed();
  const played = usePlayed();
  const player = useRef<Player | null>(null);

  useEffect(() => {
    if (!played) return;
    const { footage, time, setSpeed } = store.getState();
    let following = false;

    const made = new Player(
      played.address,
      footage.facts.rate,
      played.reach,
      {
        picture(video, at, seeking) {
          picture.show(video, at);
          if (seeking && made.speed === 0) return;
          pacer.passed(at);
          following = true;
          store.getState().setTime(at);
          following = false;
        },
        playing: setSpeed,
        problem(sentence) {
          const { playsOriginal, playOriginal } = store.getState();
          // One that grew is not kept for ever: standing still, the newer one is taken.
          if (playedNow(store.getState())?.address !== played.address) setSpeed(0);
          else if (playsOriginal) playOriginal(false);
          else toast.error(sentence);
        },
      },
      time,
    );
    const pacer = new Pacer(made, footage.facts.rate);
    player.current = made;
    const match = () => {
      const take = present(store.getState().history);
      made.range = take.range;
      pacer.follow(take, store.getState().time);
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
  }, [store, picture, played]);
  useOriginal();

  const controls = useMemo<Controls>(
    () => ({
      toggle() {
        const p = player.current;
        if (p) p.speed ? p.pause() : p.play(1, store.getState().time);
      },
      pause: () => player.current?.pause(),
      playAt: (speed) => player.current?.play(speed, store.getState().time),
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
