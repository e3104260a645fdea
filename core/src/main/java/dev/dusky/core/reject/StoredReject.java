package dev.dusky.core.reject;

import dev.dusky.core.depot.StagedFile;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A reject as the ledger keeps it.
 *
 * @param id its number
 * @param feed the feed
 * @param fileId the ledger's number of its file
 * @param file its file as it was staged
 * @param fileState the state of the file
 * @param loadId the load that found it
 * @param preamble what must precede its raw bytes to read them again
 * @param reject the reject itself
 * @param tried the last repaired version of its record that was still wrong
 * @param recordedAt when it was found
 * @param state its state
 * @param settledBy who settled it
 * @param settledAt when it was settled
 * @param reason why it was waived
 */
public record StoredReject(
    long id,
    String feed,
    long fileId,
    StagedFile file,
    String fileState,
    long loadId,
    byte[] preamble,
    Reject reject,
    Optional<byte[]> tried,
    Instant recordedAt,
    RejectState state,
    Optional<String> settledBy,
    Optional<Instant> settledAt,
    Optional<String> reason) {

  /** The same with these problems. */
  public StoredReject withProblems(List<Problem> problems) {
    return new StoredReject(
        id,
        feed,
        fileId,
        file,
        fileState,
        loadId,
        preamble,
        reject.withProblems(problems),
        tried,
        recordedAt,
        state,
        settledBy,
        settledAt,
        reason);
  }

  /** The record as it was last: the repaired version if there is one, else the original. */
  public byte[] latest() {
    return tried.orElse(reject.raw());
  }

  /** File and place of the record, for people. */
  public String where() {
    return file.path() + (reject.place().isEmpty() ? ":" + reject.line() : ", " + reject.place());
  }
}
