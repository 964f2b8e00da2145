import { findStructure } from '@jossel/core/size';
import { judge } from './laid/judged';
import { laidScene } from './laid/scenes';

/** Sixty scenes of fifteen layings are in the bench; here those that are least alike. */
test.each(['third bond', 'English bond', 'hexagons', 'boards', 'twill', 'crazy paving'])(
  'of %s, photographed askew, the lattice is found, or rightly none, and how to straighten it',
  (name) => {
    const scene = laidScene(name, 0);
    const judged = judge(scene, findStructure(scene.picture));
    expect(judged).toMatchObject({ right: true, misled: false });
    // Boards are told by their beds alone, and those of the scene are few.
    const most = name === 'boards' ? 0.008 : 0.003;
    if (judged.periodOff !== null) expect(judged.periodOff).toBeLessThan(most);
    if (judged.leanDeg !== null) expect(judged.leanDeg).toBeLessThan(0.3);
  },
);
