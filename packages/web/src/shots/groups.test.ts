import { filesOf, groupsOf, type Found } from './groups';

const found = (...paths: string[]): Found[] =>
  paths.map((path) => ({ file: new File(['x'], path.split('/').pop()!), folder: path.split('/').slice(0, -1).join('/') }));
const named = (...paths: string[]) => groupsOf(found(...paths)).map((g) => [g.name, g.files.map((f) => f.name)]);

test('numbered stills of one folder are one medium, whatever lies between them', () => {
  expect(named('plate.1001.exr', 'notes.mp4', 'plate.1002.exr', 'plate.1004.exr')).toEqual([
    ['3 pictures of plate', ['plate.1001.exr', 'plate.1002.exr', 'plate.1004.exr']],
    ['notes.mp4', ['notes.mp4']],
  ]);
});
test('of two folders, two endings or two names they are two; films and single stills stand for themselves', () => {
  expect(named('a/q1.png', 'a/q2.png', 'b/q1.png', 'b/q2.png').map(([name]) => name)).toEqual(['2 pictures of q', '2 pictures of q']);
  expect(named('q1.png', 'q2.png', 'q1.exr', 'q2.exr', 'r1.png').map(([name]) => name)).toEqual([
    '2 pictures of q',
    '2 pictures of q',
    'r1.png',
  ]);
  expect(named('take1.mov', 'take2.mov')).toHaveLength(2);
  expect(named('clean.png', 'clean.png')).toHaveLength(2);
});
test('the last number counts, and what nobody can see is left out', () => {
  expect(named('sh010_v2.0001.png', 'sh010_v2.0002.png', '.DS_Store', 'sh010_v3.0001.png')).toEqual([
    ['2 pictures of sh010_v2', ['sh010_v2.0001.png', 'sh010_v2.0002.png']],
    ['sh010_v3.0001.png', ['sh010_v3.0001.png']],
  ]);
  expect(named('0001.png', '0002.png')[0]![0]).toBe('2 pictures of a sequence');
});
test('a folder that was chosen says where each file lay', () => {
  const file = new File(['x'], 'a1.png');
  Object.defineProperty(file, 'webkitRelativePath', { value: 'shot/left/a1.png' });
  expect(filesOf([file])[0]!.folder).toBe('shot/left');
  expect(filesOf(null)).toEqual([]);
});
