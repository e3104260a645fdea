/** What a report says: the figures of the ledger, the proof, and what needs a person. */
package dev.dusky.app.report;
