export { PracticeHostModule } from './practice-host.module.js';
