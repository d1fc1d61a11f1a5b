import { axeFindsNothing } from './axe.mjs';

axeFindsNothing(1);
