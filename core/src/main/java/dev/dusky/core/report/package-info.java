/** The figures of the ledger over a period of time, as a report shows them. */
package dev.dusky.core.report;
