/** Asks for an end of what is being read: readers hear it, whoever asks. */
export const CANCEL_READING_EVENT = 'umberfish:cancel-reading';

export const cancelReading = (): void => void window.dispatchEvent(new Event(CANCEL_READING_EVENT));
