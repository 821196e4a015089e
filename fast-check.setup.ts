import fc from 'fast-check';

// The same cases in every run; a fresh seed is for the long runs.
fc.configureGlobal({ seed: Number(process.env.FAST_CHECK_SEED ?? 20310314) });
