/** A name for something that is added to a recipe. */
export const newId = () => Math.random().toString(36).slice(2, 10);
