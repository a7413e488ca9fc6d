/** Plays a take at its pace: the speed at each moment, and frames that stand. */
import { paceMap } from '@glimbo/core/pace/pace';
import type { Take } from '@glimbo/core/take/take';
import { clockOf } from '@glimbo/core/time/clock';
import type { Player } from '~/preview/player';

/** Seconds of the footage between two frames that are played: what lies further apart was gone to. */
const PLAYED = 1;

export class Pacer {
  private of: Take | null = null;
  private speedAt: (time: number) => number = () => 1;
  private last = 0;

  constructor(
    private readonly player: Player,
    private readonly rate: number,
  ) {}

  /** Has the player go as fast as a take goes at a time in seconds of the footage; under a pace the sound keeps its pitch. */
  follow(take: Take, time: number) {
    if (this.of !== take) {
      this.of = take;
      this.speedAt = paceMap(take.pace, take.range, clockOf(take, this.rate).speed).speedAt;
    }
    this.player.setReading(this.speedAt(time), take.pace ? true : undefined);
  }

  /** Told of every frame that is played: stands at one that is held. */
  passed(time: number) {
    const held = this.of?.pace?.keys.find((k) => k.held && k.time > this.last + 1e-6 && k.time <= time + 1e-6);
    if (held && time - this.last < PLAYED) this.player.stand(held.held!);
    this.last = time;
  }
}
