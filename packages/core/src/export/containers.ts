/** The files that clips are written in, apart from what is in them. */
export interface ContainerFacts {
  /** In lists and on the Exports page. */
  label: string;
  /** Ending of its files. */
  ending: string;
}

export const CONTAINER_FACTS = {
  mp4: { label: 'MP4', ending: 'mp4' },
  mov: { label: 'MOV', ending: 'mov' },
} as const satisfies Record<string, ContainerFacts>;

export type Container = keyof typeof CONTAINER_FACTS;
