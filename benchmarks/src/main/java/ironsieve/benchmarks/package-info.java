/** Measures the core on generated rulebases, each beside a plain twin in the same run. */
package ironsieve.benchmarks;
