package dev.dusky.lake;

import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.core.tables.RowWriter;
import dev.dusky.core.tables.Transaction;
import dev.dusky.core.tables.Trial;
import dev.dusky.lake.read.LandedOrder;
import dev.dusky.lake.read.LandedVectors;
import dev.dusky.lake.write.DataFiles;
import java.util.List;
import java.util.Optional;
import org.apache.iceberg.DataFile;

/** The change that one file makes: new data files, appended when it is posted. */
final class LakeLandingChange implements LandingChange {

  private final LakeAccess access;
  private final Transaction transaction;
  private final Landing landing;
  private final long load;
  private final long file;
  private Optional<DataFiles> files = Optional.empty();

  LakeLandingChange(
      LakeAccess access, Transaction transaction, Landing landing, long load, long file) {
    this.access = access;
    this.transaction = transaction;
    this.landing = landing;
    this.load = load;
    this.file = file;
  }

  private TableName table() {
    return landing.table().name();
  }

  @Override
  public RowWriter writer() {
    undo();
    if (!(transaction instanceof Trial)) {
      files = Optional.of(access.dataFiles(transaction, landing));
    }
    return new LakeRowWriter(landing, access.failures(), files, load, file);
  }

  @Override
  public void post() {
    if (files.isPresent()) {
      List<DataFile> written =
          access.failures().run("Writing into " + table(), files.get()::finish);
      access.append(transaction, table(), written);
    }
  }

  @Override
  public void hold() {
    access.hold(transaction, table());
  }

  @Override
  public void rows(List<String> columns, LandedRows taker) {
    access
        .failures()
        .run(
            "Reading the rows of " + table(),
            () -> {
              LandedOrder.read(
                  access.table(transaction, table()),
                  columns,
                  new LandedVectors(landing.feed(), columns, taker));
              return null;
            });
  }

  @Override
  public void undo() {
    files.ifPresent(
        written ->
            access
                .failures()
                .run(
                    "Removing what was written of " + table(),
                    () -> {
                      written.discard();
                      return null;
                    }));
    files = Optional.empty();
  }
}
