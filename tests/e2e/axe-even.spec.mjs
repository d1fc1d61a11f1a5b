import { axeFindsNothing } from './axe.mjs';

axeFindsNothing(0);
