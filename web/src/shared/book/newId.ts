/** The id of something new in a lab book; the letter says to people who read the file what it is. */
export const newId = (letter: string) => `${letter}${crypto.randomUUID().slice(0, 8)}`;
