import { serveRequests } from '../processes/index.js';
import { answerLayerRequest } from './layer-requests.js';

serveRequests(answerLayerRequest);
