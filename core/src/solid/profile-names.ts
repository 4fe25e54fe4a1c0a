/**
 * The shipped profiles, drawn on the unit square; width and height are applied by `scaledProfile`. The words are those of
 * joiners, plasterers and stone cutters. The first six are the everyday ones.
 */
export const PROFILE_NAMES = [
  'square',
  'chamfer',
  'round',
  'cove',
  'ogee',
  'stepped',
  'ovolo',
  'cavetto',
  'reverse-ogee',
  'scotia',
  'bead',
  'astragal',
  'reeds',
  'flute',
  'thumb',
  'bullnose',
  'knife',
  'double-chamfer',
  'quirk',
  'two-steps',
  'three-steps',
  'two-rounds',
  'two-coves',
  'step-and-round',
  'step-and-cove',
  'rim',
  'sunk',
  'keel',
] as const
