package dev.dusky.core.ledger;

import java.util.Optional;

/** The stagings of sources in the ledger. */
public interface SourceRuns {

  /** The last staging of a source. */
  Optional<SourceRun> last(String source);

  /** How many files were staged of a source so far. */
  long files(String source);

  /** Enters a staging whose files are all staged; does nothing if it is entered already. */
  void enter(SourceRun run);
}
