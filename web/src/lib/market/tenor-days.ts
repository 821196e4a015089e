/** Fixed days at which the surface is read and kept: a week to a year. */
export const TENOR_DAYS = [7, 14, 30, 60, 90, 180, 365];
