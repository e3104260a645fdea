package dev.dusky.core.balance;

import dev.dusky.core.merge.MergeTally;
import java.util.List;

/**
 * A merge against its tables.
 *
 * @param tally the sum of its runs
 * @param rejectsRecorded its rejects in the ledger
 * @param rejectsOpen those of them that were not taken again
 * @param waitingFiles files that landed and are not merged
 * @param waitingRows their rows
 * @param reversedRows merged rows whose file was taken out of the landing table since
 * @param inLedger rows that the target should have, by the ledger
 * @param inTarget rows that it has
 * @param twice keys that it has more than once, some of them
 * @param chains what is wrong with its histories, some of it
 * @param sums the sums from file to target
 * @param contradictions what else does not fit together, in words
 */
public record MergeProof(
    MergeTally tally,
    long rejectsRecorded,
    long rejectsOpen,
    long waitingFiles,
    long waitingRows,
    long reversedRows,
    long inLedger,
    long inTarget,
    List<String> twice,
    List<String> chains,
    List<MergeSum> sums,
    List<String> contradictions) {}
