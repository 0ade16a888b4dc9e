import type { Rubric } from '@core/rubric/document';

const criterion = (id: string, title: string, levels: [number, string][]): Rubric['criteria'][number] => ({
  ...{ id, title, stands: 'counts', step: 0.5 },
  levels: levels.map(([points, words], i) => ({ id: `${id}-${i + 1}`, points, words })),
});

/** What the soil pits are marked by. */
export const SOIL_PIT: Rubric = {
  by: 'points',
  criteria: [
    criterion('drawing', 'Profile drawing', [
      [1, 'layers, none named'],
      [3, 'some named, no depths'],
      [4.5, 'all named, depths to 10 cm'],
      [6, 'all named, depths to 1 cm, scale and north'],
    ]),
    criterion('measures', 'Field measures', [
      [1, 'colour alone'],
      [2.5, 'colour and texture of some'],
      [4, 'colour and texture each, pH for some'],
      [6, 'colour, texture and pH of each layer'],
    ]),
    criterion('reading', 'Reading of the site', [
      [2, 'says what is there'],
      [4, 'names the drainage'],
      [6, 'drainage argued from the pit'],
      [8, 'drainage and use argued from the pit'],
    ]),
  ],
};
