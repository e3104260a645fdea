/**
 * A depot, a ledger and tables in memory, with faults on demand, and builders of feeds. For tests
 * of what is built on the ports; the ports' contracts run on the real implementations.
 */
package dev.dusky.testkit;
