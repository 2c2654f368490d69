export { errorText } from './error-text.js';
export { ProblemFilter, problemSentence, sendProblem, toProblem } from './problem.filter.js';
export { notFound, Problem } from './problem.js';
