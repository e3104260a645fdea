package dev.dusky.app.sql;

import dev.dusky.core.ledger.FileState;
import dev.dusky.core.load.FileResult;
import dev.dusky.core.load.LoadListener;
import dev.dusky.core.tally.Tally;
import java.util.ArrayList;
import java.util.List;

/** Counts what is filled into a table, until it is enough. */
final class FillListener implements LoadListener {

  private final long mostRows;
  private final List<String> refused = new ArrayList<>();
  private Tally tally = Tally.NONE;
  private int files;
  private boolean cut;
  private volatile boolean enough;

  FillListener(long mostRows) {
    this.mostRows = mostRows;
  }

  @Override
  public void finished(FileResult result) {
    if (result.state() == FileState.REFUSED) {
      refused.add(result.file().path() + ": " + result.message());
      return;
    }
    if (result.state() != FileState.POSTED && result.state() != FileState.TWIN) {
      return;
    }
    files++;
    tally = tally.plus(result.tally());
    cut |= result.tally().read() >= mostRows;
    enough = tally.read() >= mostRows;
  }

  /** Whether that many rows were read. */
  boolean enough() {
    if (enough) {
      cut = true; // asked because there is more
    }
    return enough;
  }

  FilledFeed result(String feed) {
    return new FilledFeed(feed, files, tally, List.copyOf(refused), cut);
  }
}
