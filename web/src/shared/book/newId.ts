import { v4 as newUuid } from 'uuid';

/** The id of something new in a lab book; the letter says to people who read the file what it is. */
export const newId = (letter: string) => `${letter}${newUuid().slice(0, 8)}`;
