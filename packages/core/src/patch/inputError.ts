/** What a person gave cannot be used; the message says what is wrong and what would be right. */
export class InputError extends Error {
  override name = 'InputError';
}
