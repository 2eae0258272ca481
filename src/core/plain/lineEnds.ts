/** A text with the line ends that we write: version control makes two characters of each, where it is told to. */
export const unixLines = (text: string): string => text.replaceAll('\r\n', '\n');
