import { defaultsOf, effects, type Effect, type OwnRecipe, type StoredValue } from '../effects';
import { readRecipe, type Recipe } from './recipe';

/** Height in pixels of the subject that our own recipes are written for. */
const HEIGHT = 430;

/** A look of an effect as a recipe, with its lengths as shares of the subject's height. */
function recipeFrom(e: Effect, own: OwnRecipe): Recipe {
  const share = (key: string, value: StoredValue): StoredValue => {
    const { kind } = e.params[key]!;
    if (kind === 'length') return (value as number) / HEIGHT;
    return kind === 'point' ? [(value as [number, number])[0] / HEIGHT, (value as [number, number])[1] / HEIGHT] : value;
  };
  return readRecipe({
    kind: 'wraithos recipe',
    version: 1,
    name: own.name,
    effect: e.type,
    effectVersion: e.version,
    lane: own.lane ?? e.lanes[0],
    opacity: own.opacity ?? 100,
    blend: e.light ? 'screen' : 'normal',
    length: own.length ?? null,
    values: Object.fromEntries(Object.entries({ ...defaultsOf(e.params), ...own.values }).map(([key, value]) => [key, share(key, value)])),
    curves: Object.fromEntries(
      Object.entries(own.curves ?? {}).map(([key, points]) => [
        key,
        { points: points.map(([frame, value]) => ({ frame, value: share(key, value), ease: 'smooth' })) },
      ]),
    ),
    treatments: [],
  });
}

/** Recipes that come with Wraithos; each effect has its own. */
export const ownRecipes: readonly Recipe[] = Object.values(effects).flatMap((e) => (e.recipes ?? []).map((own) => recipeFrom(e, own)));
/** Those of one effect. */
export const ownRecipesFor = (effect: string): readonly Recipe[] => ownRecipes.filter((r) => r.effect === effect);
