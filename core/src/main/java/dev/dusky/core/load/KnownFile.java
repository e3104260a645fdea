package dev.dusky.core.load;

import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.ledger.FileEntry;
import dev.dusky.core.ledger.FileState;
import java.util.Optional;

/**
 * A staged file together with what the ledger knows of it.
 *
 * @param file the file as it is in the depot
 * @param entry the ledger's entry for this very version
 * @param postedBefore the entry of another version posted under the same path
 */
public record KnownFile(
    StagedFile file, Optional<FileEntry> entry, Optional<FileEntry> postedBefore) {

  /** The file's state for the feed at this moment. */
  public FileState state() {
    if (entry.isPresent() && entry.get().state().settled()) {
      return entry.get().state();
    }
    if (postedBefore.isPresent()) {
      return FileState.REVISED;
    }
    return entry.map(FileEntry::state).orElse(FileState.WAITING);
  }

  /**
   * Whether it was refused or halted, and neither it nor the feed has changed since.
   *
   * @param declared the print of the feed's declaration now
   */
  boolean stuck(String declared) {
    boolean halted =
        entry
            .map(e -> e.state() == FileState.REFUSED || e.state() == FileState.REVISED)
            .orElse(false);
    return halted && entry.get().declared().equals(Optional.of(declared));
  }

  /** Whether the ledger has this very version as revised. */
  boolean noted() {
    return entry.map(e -> e.state() == FileState.REVISED).orElse(false);
  }

  /** Whether a load has nothing to do with it. */
  boolean done() {
    return state().settled();
  }
}
