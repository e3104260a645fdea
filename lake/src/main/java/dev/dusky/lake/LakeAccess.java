package dev.dusky.lake;

import dev.dusky.core.table.TableName;
import dev.dusky.core.tables.Landing;
import dev.dusky.core.tables.Transaction;
import dev.dusky.lake.pointer.LakeCatalog;
import dev.dusky.lake.write.DataFiles;
import dev.dusky.warehouses.connection.JdbcTransaction;
import java.sql.Connection;
import java.util.List;
import org.apache.iceberg.AppendFiles;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.Table;

/** The catalog's tables in the transactions of the ledger. */
final class LakeAccess {

  private final LakeCatalog catalog;
  private final LakeFailures failures;

  LakeAccess(LakeCatalog catalog, LakeFailures failures) {
    this.catalog = catalog;
    this.failures = failures;
  }

  LakeFailures failures() {
    return failures;
  }

  private static Connection connection(Transaction transaction) {
    return JdbcTransaction.of(transaction).handle().getConnection();
  }

  /** A table whose changes belong to the transaction. */
  Table table(Transaction transaction, TableName name) {
    return failures.run(
        "Opening table " + name, () -> catalog.table(connection(transaction), name).orElseThrow());
  }

  /** New data files for a feed's rows. */
  DataFiles dataFiles(Transaction transaction, Landing landing) {
    return new DataFiles(table(transaction, landing.table().name()), landing.feed());
  }

  /** Appends data files in the transaction. */
  void append(Transaction transaction, TableName name, List<DataFile> written) {
    if (written.isEmpty()) {
      return;
    }
    Table table = table(transaction, name);
    failures.run(
        "Writing into " + name,
        () -> {
          AppendFiles append = table.newAppend();
          written.forEach(append::appendFile);
          append.commit();
          return null;
        });
  }

  /** Makes others wait that change the table, until the transaction ends. */
  void hold(Transaction transaction, TableName name) {
    failures.run(
        "Holding " + name,
        () -> {
          catalog.hold(connection(transaction), name);
          return null;
        });
  }
}
