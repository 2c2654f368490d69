export { Trial } from './trial.entity.js';
export { TrialsModule } from './trials.module.js';
export { TrialsService } from './trials.service.js';
