// Builds the pages if a source changed: the step of "npm test" between unit and end-to-end tests.
import { buildWeb } from './build-web.mjs';

buildWeb();
