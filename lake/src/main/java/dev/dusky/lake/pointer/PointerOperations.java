package dev.dusky.lake.pointer;

import dev.dusky.core.table.TableName;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import org.apache.iceberg.BaseMetastoreTableOperations;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.exceptions.AlreadyExistsException;
import org.apache.iceberg.exceptions.CommitFailedException;
import org.apache.iceberg.exceptions.NoSuchTableException;
import org.apache.iceberg.io.FileIO;

/**
 * The operations of one table whose pointer moves in a transaction that someone else commits.
 *
 * <p>A commit writes a metadata file and then moves the pointer from the metadata it is based on. A
 * concurrent transaction that moved the pointer first makes it fail; the library then refreshes,
 * builds manifests and metadata again, and tries once more. From the second try on the pointer's
 * row is locked when it is read, so that the try cannot fail for that reason again, however many
 * others write. Until the transaction commits nobody else sees the new metadata; if it is rolled
 * back, the metadata, the manifests and the data files are left over, and no pointer leads to them.
 */
final class PointerOperations extends BaseMetastoreTableOperations {

  private final TablePointers pointers;
  private final Connection connection;
  private final TableName table;
  private final FileIO files;
  private boolean contended;

  PointerOperations(TablePointers pointers, Connection connection, TableName table, FileIO files) {
    this.pointers = pointers;
    this.connection = connection;
    this.table = table;
    this.files = files;
  }

  @Override
  protected String tableName() {
    return table.toString();
  }

  @Override
  public FileIO io() {
    return files;
  }

  @Override
  protected void doRefresh() {
    try {
      Optional<String> metadata = pointers.find(connection, table, contended);
      if (metadata.isEmpty() && currentMetadataLocation() != null) {
        throw new NoSuchTableException("Table %s was dropped", table);
      }
      if (metadata.isEmpty()) {
        disableRefresh();
      } else {
        refreshFromMetadataLocation(metadata.get());
      }
    } catch (SQLException e) {
      throw new PointerFailure(e);
    }
  }

  @Override
  protected void doCommit(TableMetadata base, TableMetadata metadata) {
    String written = writeNewMetadataIfRequired(base == null, metadata);
    boolean moved;
    try {
      moved =
          base == null
              ? pointers.enter(connection, table, written)
              : pointers.move(connection, table, base.metadataFileLocation(), written);
    } catch (SQLException e) {
      throw new PointerFailure(e); // its transaction is over; the file is left over with the others
    }
    if (!moved) {
      files.deleteFile(written);
    }
    if (!moved && base == null) {
      throw new AlreadyExistsException("Table %s exists already", table);
    }
    if (!moved) {
      contended = true;
      throw new CommitFailedException("Table %s was changed by another transaction", table);
    }
  }
}
