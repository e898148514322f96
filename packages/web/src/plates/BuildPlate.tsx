import { Layers } from 'lucide-react';
import { clipWithRole } from '@wraithos/core/shot';
import { useDocument } from '../state/shotStore';
import { JobLine } from '../ui/JobLine';
import { useBuilding } from './building';

/** "Build the clean plate", wherever one is missing; how far it is, once it has begun. */
export function BuildPlate({ clip }: { clip?: string }) {
  const shot = useDocument(),
    { state, build, cancel } = useBuilding(),
    of = clip ? shot.clips[clip] : clipWithRole(shot, 'performance');
  if (!of || of.alpha || of.frames < 3) return null;
  if (state) return <JobLine {...state} onCancel={cancel} />;
  return (
    <button type="button" className="btn btn-quiet btn-sm mt-1 d-block" onClick={() => void build(of.id)}>
      <Layers size={14} className="me-1" />
      Build the clean plate
    </button>
  );
}
