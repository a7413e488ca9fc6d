/** The stations of the Studio, in the order in which one comes through them. Each has its bench in a folder of its name. */
export const STATIONS = {
  source: 'Source',
  level: 'Level',
  path: 'Path',
  look: 'Look',
  export: 'Export',
} as const;

export type Station = keyof typeof STATIONS;
export const STATION_IDS = Object.keys(STATIONS) as Station[];
