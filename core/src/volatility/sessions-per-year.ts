/** Sessions a year (common practice, no source). */
export const SESSIONS_PER_YEAR = 252;
