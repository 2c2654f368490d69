import { picturesOf } from '../making/index.js';

export default picturesOf;
