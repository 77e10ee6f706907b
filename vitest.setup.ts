import fc from 'fast-check';

// One seed for every run, so that a failure in one place is a failure in all.
fc.configureGlobal({ seed: 20261125 });
