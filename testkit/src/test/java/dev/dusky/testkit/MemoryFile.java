package dev.dusky.testkit;

import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileOutcome;
import dev.dusky.core.ledger.FileState;
import dev.dusky.core.tally.Tally;
import java.util.Optional;

/** A file's entry in a fake ledger. */
public final class MemoryFile {

  final long id;
  final String feed;
  final String path;
  final String version;
  FileState state = FileState.WAITING;
  Optional<Long> load = Optional.empty();
  Optional<String> fingerprint = Optional.empty();
  Optional<String> message = Optional.empty();
  Optional<String> declared = Optional.empty();
  Tally tally = Tally.NONE;
  boolean claimed;

  MemoryFile(long id, String feed, String path, String version) {
    this.id = id;
    this.feed = feed;
    this.path = path;
    this.version = version;
  }

  /** Its path. */
  public String path() {
    return path;
  }

  /** Its state. */
  public FileState state() {
    return state;
  }

  /** Its tally. */
  public Tally tally() {
    return tally;
  }

  /** Its number. */
  public long id() {
    return id;
  }

  /** The message of its last load. */
  public String message() {
    return message.orElse("");
  }

  void settle(FileOutcome outcome, long loadId, String hash) {
    state = outcome.state();
    load = Optional.of(loadId);
    fingerprint = outcome.fingerprint();
    message = Optional.of(outcome.message());
    declared = Optional.of(hash);
    tally = outcome.tally();
  }

  FileEntry entry() {
    return new FileEntry(id, path, version, state, load, message, declared);
  }
}
