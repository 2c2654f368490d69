export { Trial } from './trial.entity.js';
export { TrialsModule } from './trials.module.js';
export { MAKE_TRIAL_WORKER, TrialsService } from './trials.service.js';
