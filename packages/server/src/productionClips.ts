import type { z } from 'zod';
import type { productionClip, ProductionClip } from '@wraithos/contract';
import { ownClips } from '@wraithos/core/shot';
import { In } from 'typeorm';
import { Medium } from './database/entities';
import type { Services } from './services';

/** Clips of all shots of a production, each medium once, the newest first: what was brought in for one shot is there for the others. */
export async function clipsOfProduction(
  { shots, database }: Pick<Services, 'shots' | 'database'>,
  production: string,
): Promise<z.input<typeof productionClip>[]> {
  const found = new Map<string, { name: string; role: ProductionClip['role']; shots: string[] }>();
  for (const { id, code } of await shots.list(production)) {
    const { shot } = await shots.document(id);
    for (const clip of ownClips(shot)) {
      if (!('hash' in clip.media)) continue;
      const known = found.get(clip.media.hash);
      if (!known) found.set(clip.media.hash, { name: clip.name, role: clip.role, shots: [code] });
      else if (!known.shots.includes(code)) known.shots.push(code);
    }
  }
  const rows = found.size ? await database.manager.find(Medium, { where: { hash: In([...found.keys()]) } }) : [];
  return rows
    .sort((a, b) => b.created.getTime() - a.created.getTime() || (a.hash < b.hash ? -1 : 1))
    .map(({ hash, info, created }) => ({ hash, info: { ...info }, created: created.toISOString(), ...found.get(hash)! }));
}
