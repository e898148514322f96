/**
 * Parameters, described once: kind, unit, range, default, title, help. Effects, sources of mattes and kinds of tracks are described with them, and their
 * value types, schemas, settings forms, documentation and tests follow.
 */
export interface Param<V> {
  kind: string;
  default: V;
  title: string;
  help?: string;
  group?: string;
  unit?: string;
  range?: readonly [number, number];
  step?: number;
  /** May be a curve over time. */
  curve?: boolean;
  of?: readonly string[];
  /** Folds away under "More". */
  rare?: boolean;
  /** A colour that stays display-encoded inside, as 0..1. */
  encoded?: boolean;
  /** A colour that can be picked on the picture; the point parameter of this name (if any) takes the place where it was picked. */
  picked?: string | true;
  /** Shown only while another parameter has one of these values. */
  when?: { param: string; is: readonly string[] };
}
type Given<V> = Omit<Param<V>, 'kind'>;
export const param = {
  /** Whole-shot pixels in the document; the picture's own pixels inside `render`. */
  length: (o: Given<number>) => ({ unit: 'px', curve: true, range: [0, 2000] as const, step: 1, ...o, kind: 'length' as const }),
  /** Square pixels of the whole shot in the document; the picture's own inside. */
  area: (o: Given<number>) => ({ unit: 'px²', range: [0, 1e6] as const, step: 50, ...o, kind: 'area' as const }),
  number: (o: Given<number>) => ({ curve: true, ...o, kind: 'number' as const }),
  /** Percent in the document and on the screen; 0..1 inside `render`. */
  share: (o: Given<number>) => ({ unit: '%', curve: true, range: [0, 100] as const, step: 1, ...o, kind: 'share' as const }),
  angle: (o: Given<number>) => ({ unit: '°', curve: true, range: [-360, 360] as const, step: 1, ...o, kind: 'angle' as const }),
  /** Display-encoded #rrggbb in the document; linear [r, g, b] inside `render`, or display-encoded where it is `encoded`. */
  colour: (o: Given<string>) => ({ ...o, kind: 'colour' as const }),
  /** Offset from the mount (or place on the picture), whole-shot pixels. */
  point: (o: Given<readonly [number, number]>) => ({ unit: 'px', curve: true, ...o, kind: 'point' as const }),
  seed: (o: Given<number>) => ({ range: [0, 9999] as const, step: 1, ...o, kind: 'seed' as const }),
  choice: <const C extends readonly string[]>(o: Omit<Given<C[number]>, 'of'> & { of: C }) => ({ ...o, kind: 'choice' as const }),
};
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- a table of parameters of different value types
export type Params = Record<string, Param<any>>;

type ValueOf<P> = P extends { kind: 'choice'; of: readonly (infer C)[] }
  ? C
  : P extends { kind: 'colour' }
    ? readonly [number, number, number]
    : P extends { kind: 'point' }
      ? readonly [number, number]
      : number;
/** Values as what they belong to gets them. */
export type Values<P> = { readonly [K in keyof P]: ValueOf<P[K]> };
/** Values as the document stores them. */
export type StoredValue = number | string | readonly [number, number];

/** Values of parameters as the document stores them, by name. */
export type StoredOf<P> = {
  [K in keyof P]: P[K] extends { kind: 'choice'; of: readonly (infer C)[] }
    ? C
    : P[K] extends { kind: 'colour' }
      ? string
      : P[K] extends { kind: 'point' }
        ? [number, number]
        : number;
};

/** Where the parameters stand when what they belong to is new. */
export function defaultsOf(params: Params): Record<string, StoredValue> {
  return Object.fromEntries(Object.entries(params).map(([name, p]) => [name, p.default as StoredValue]));
}
