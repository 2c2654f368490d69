/** What the file chooser offers first; the content of a file decides, not its name. */
export const VIDEO_FILES = 'video/*,.mkv,.mov,.avi,.mpg,.mpeg,.ts,.m2ts,.mts,.mxf,.webm,.mp4,.m4v,.wmv,.flv';
