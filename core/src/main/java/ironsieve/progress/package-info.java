/**
 * How far long work is, and the way to stop it: the lowest package, for whatever takes long may
 * tell its progress.
 */
package ironsieve.progress;
