/** What the file chooser offers first; the content of a file decides, not its name. */
export const MOVING_FILES =
  'video/*,image/gif,image/apng,image/png,image/webp,.mkv,.mov,.avi,.mpg,.mpeg,.ts,.m2ts,.mts,.mxf,.webm,.mp4,.m4v,.wmv,.flv';
export const PICTURE_FILES = 'image/*,.avif,.tif,.tiff';
export const ALL_FILES = `${MOVING_FILES},${PICTURE_FILES}`;
