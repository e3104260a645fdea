/** Data generator and benchmarks; each prints ratios of figures measured in one run, in turns. */
package dev.dusky.bench;
