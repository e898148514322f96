import { Stage } from './stage';
import { accessStories } from './stories/access';
import { editStories } from './stories/edits';
import { elementStories } from './stories/elements';
import { filmStories } from './stories/film';
import { foxStories } from './stories/fox';
import { keyboardStories } from './stories/keyboard';
import { renderStories } from './stories/renders';
import { shotStories } from './stories/shots';

const stage = new Stage();
shotStories(stage);
filmStories(stage);
foxStories(stage);
elementStories(stage);
keyboardStories(stage);
editStories(stage);
accessStories(stage);
renderStories(stage);
