export { type MovieEncoding, type MovieWish, startMovie } from './encode-movie.js';
export { assertEncoder, ENCODERS, type Encoder } from './encoders.js';
export { frameSeconds, type MovieTimes, movieTimes } from './movie-times.js';
