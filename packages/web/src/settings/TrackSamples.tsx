import { Dropdown } from 'react-bootstrap';
import type { Track } from '@wraithos/core/shot';
import { useDocument } from '../state/shotStore';
import { copiedSamples, copySamples, formats, pasteSamples, saveTracks } from '../steps/trackFiles';
import { Menu } from '../ui/Menu';
import { useTracks } from '../workbench/tracks';

/** Where a track was on every frame, to be carried to another one or to a file. */
export function TrackSamples({ track }: { track: Track }) {
  const shot = useDocument(),
    tracks = useTracks(),
    none = !tracks.get(track.id)?.length,
    copied = copiedSamples();
  return (
    <Dropdown className="d-inline-block me-2">
      <Dropdown.Toggle as="button" className="btn btn-quiet btn-sm">
        Samples
      </Dropdown.Toggle>
      <Menu>
        <Dropdown.Item disabled={none} onClick={() => copySamples(track, tracks)}>
          Copy
        </Dropdown.Item>
        <Dropdown.Item disabled={!copied} onClick={() => void pasteSamples(track)}>
          {copied ? `Paste those of ${copied.name}` : 'Paste'}
        </Dropdown.Item>
        <Dropdown.Divider />
        {formats.map((format) => (
          <Dropdown.Item key={format} disabled={none} onClick={() => saveTracks(shot, [track], tracks, format)}>
            Save as {format}
          </Dropdown.Item>
        ))}
      </Menu>
    </Dropdown>
  );
}
