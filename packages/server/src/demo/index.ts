export { DemoShelf } from './demo-shelf.js';
