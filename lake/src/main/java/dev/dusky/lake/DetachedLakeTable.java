package dev.dusky.lake;

import dev.dusky.core.feed.Feed;
import dev.dusky.core.table.TableName;
import dev.dusky.core.table.TableShape;
import dev.dusky.core.tables.DetachedChange;
import dev.dusky.core.tables.DetachedTable;
import dev.dusky.core.tables.LandedPiece;
import dev.dusky.core.tables.LandedRows;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.LandingChange;
import dev.dusky.lake.read.LandedFiles;
import dev.dusky.lake.read.LandedVectors;
import dev.dusky.lake.type.LakeTypes;
import dev.dusky.lake.write.DataFiles;
import java.util.List;
import org.apache.iceberg.BaseTable;
import org.apache.iceberg.ContentFileParser;
import org.apache.iceberg.LocationProviders;
import org.apache.iceberg.StaticTableOperations;
import org.apache.iceberg.Table;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.TableMetadataParser;
import org.apache.iceberg.io.FileIO;

/** A landing table by its metadata file alone: data files are written and named, not committed. */
final class DetachedLakeTable implements DetachedTable {

  private final TableName name;
  private final Table table;
  private final LakeFailures failures = new LakeFailures();

  /**
   * The table.
   *
   * @param metadata the location of its metadata file
   */
  DetachedLakeTable(FileIO files, TableName name, String metadata) {
    this.name = name;
    TableMetadata read =
        failures.run("Opening table " + name, () -> TableMetadataParser.read(files, metadata));
    this.table =
        new BaseTable(
            new StaticTableOperations(
                read, files, LocationProviders.locationsFor(read.location(), read.properties())),
            name.toString());
  }

  private TableShape shape() {
    return LakeTypes.shape(name, table.schema());
  }

  @Override
  public DetachedChange change(Feed feed, long loadId) {
    return new Change(new Landing(feed, shape()), loadId);
  }

  @Override
  public void landed(LandedPiece piece, Feed feed, List<String> columns, LandedRows taker) {
    failures.run(
        "Reading rows of " + name,
        () -> {
          LandedFiles.read(table, piece.rows(), columns, new LandedVectors(feed, columns, taker));
          return null;
        });
  }

  private final class Change implements DetachedChange {
    private final Landing landing;
    private final long load;
    private final DataFiles files;
    private boolean whole = true;

    Change(Landing landing, long load) {
      this.landing = landing;
      this.load = load;
      this.files = new DataFiles(table, landing.feed());
    }

    @Override
    public LandingChange of(long fileId) {
      return new SharedRows(landing, failures, files, load, fileId, () -> whole = false);
    }

    @Override
    public boolean whole() {
      return whole;
    }

    @Override
    public List<String> finish() {
      return failures.run("Writing into " + name, files::finish).stream()
          .map(file -> ContentFileParser.toJson(file, table.specs().get(file.specId())))
          .toList();
    }

    @Override
    public void discard() {
      failures.run(
          "Removing what was written of " + name,
          () -> {
            files.discard();
            return null;
          });
    }
  }
}
