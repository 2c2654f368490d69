import { serveRequests } from '../processes/index.js';
import { inspectHere } from './inspect-here.js';

serveRequests(inspectHere);
