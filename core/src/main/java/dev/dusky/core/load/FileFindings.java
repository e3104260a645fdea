package dev.dusky.core.load;

import dev.dusky.core.bind.RowBatch;
import dev.dusky.core.tables.Refusals;
import dev.dusky.core.tally.ControlTotal;
import dev.dusky.core.tally.Tally;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The findings of an attempt so far. */
final class FileFindings {

  byte[] preamble = new byte[0];
  List<ControlTotal> totals = List.of();
  Map<String, Long> nulls = Map.of();
  Refusals refusals = new Refusals(0);
  Optional<String> fingerprint = Optional.empty();
  long read;
  long loaded;
  long rejected;
  long filtered;
  long duplicate;

  /** Counts a batch whose repeats were removed. */
  void count(RowBatch batch) {
    read += batch.read();
    rejected += batch.rejected();
    filtered += batch.filtered();
    duplicate += batch.repeats();
  }

  /** Takes over what the table took and refused. */
  void written(long rows, Refusals refusedRows) {
    loaded = rows;
    refusals = refusedRows;
    rejected += refusedRows.count();
  }

  Tally posted() {
    return Tally.posted(read, loaded, duplicate, rejected, filtered);
  }

  Tally refused() {
    return Tally.refused(read, rejected, filtered);
  }
}
