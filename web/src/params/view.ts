export const match = (value: string): value is 'term' | 'skew' | 'chain' => ['term', 'skew', 'chain'].includes(value);
