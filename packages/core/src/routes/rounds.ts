/** What looks back is settled by repetition, and by no more rounds than this. */
export const mostRounds = 24;
