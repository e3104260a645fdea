package dev.dusky.engine;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.SnapshotSummary;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.catalog.Namespace;
import org.apache.iceberg.catalog.TableIdentifier;
import org.apache.iceberg.io.FileIO;

/**
 * Where each table's metadata is, as this process sees it: as it was given at the beginning, or as
 * a statement of this process left it. Nobody else sees what is written here until the process that
 * asked for it moves the real pointers.
 */
final class WorkingPointers {

  /** The pointers of this process. */
  static final WorkingPointers HERE = new WorkingPointers();

  /** The namespace of what comes from the ledger. */
  private static final String LEDGER = "dusky";

  private final Map<TableIdentifier, String> given = new LinkedHashMap<>();
  private final Map<TableIdentifier, String> current = new LinkedHashMap<>();
  private long rows;
  private FileIO files;
  private String scratch = "";

  private WorkingPointers() {}

  /** The files of the tables; null until it is known how they are reached. */
  synchronized FileIO files() {
    return files;
  }

  /** Takes note of how the files of the tables are reached. */
  synchronized void files(FileIO access) {
    files = access;
  }

  /** Forgets all tables; the namespace has those of the turn that begins. */
  synchronized void clear(String namespace) {
    scratch = namespace;
    given.clear();
    current.clear();
    rows = 0;
  }

  /** Takes a table as it is now, unless a statement has changed it already. */
  synchronized void give(TableIdentifier table, String metadata) {
    if (changed(table)) {
      return;
    }
    given.put(table, metadata);
    current.put(table, metadata);
  }

  private boolean changed(TableIdentifier table) {
    return !Objects.equals(current.get(table), given.get(table));
  }

  /** Where a table's metadata is; null if there is no such table. */
  synchronized String find(TableIdentifier table) {
    return current.get(table);
  }

  /** Moves a pointer, if it still leads to the metadata that the change is based on. */
  synchronized boolean move(
      TableIdentifier table, TableMetadata base, TableMetadata changed, String written) {
    String from = base == null ? null : base.metadataFileLocation();
    if (from == null ? current.containsKey(table) : !from.equals(current.get(table))) {
      return false;
    }
    current.put(table, written);
    rows += total(changed) - total(base);
    return true;
  }

  private static long total(TableMetadata metadata) {
    Snapshot snapshot = metadata == null ? null : metadata.currentSnapshot();
    if (snapshot == null) {
      return 0;
    }
    Map<String, String> summary = snapshot.summary();
    return number(summary, SnapshotSummary.TOTAL_RECORDS_PROP)
        - number(summary, SnapshotSummary.TOTAL_POS_DELETES_PROP);
  }

  private static long number(Map<String, String> summary, String name) {
    return Long.parseLong(summary.getOrDefault(name, "0"));
  }

  /** Forgets a table; false if there was none. */
  synchronized boolean drop(TableIdentifier table) {
    return current.remove(table) != null;
  }

  /** How many rows the tables have more since this was last asked. */
  synchronized long added() {
    long added = rows;
    rows = 0;
    return added;
  }

  /** The tables of a namespace. */
  synchronized List<TableIdentifier> in(Namespace namespace) {
    List<TableIdentifier> tables = new ArrayList<>(current.keySet());
    tables.removeIf(table -> !table.namespace().equals(namespace));
    return tables;
  }

  /**
   * The tables that statements changed, made or dropped.
   *
   * @return where the metadata of each was, and where it is now; null for a table that was not
   *     there, or is not any more
   */
  synchronized Map<String, String[]> changes() {
    Map<String, String[]> changes = new TreeMap<>();
    Set<TableIdentifier> tables = new HashSet<>(given.keySet());
    tables.addAll(current.keySet());
    for (TableIdentifier table : tables) {
      String from = given.get(table);
      String to = current.get(table);
      if (!small(table) && !Objects.equals(from, to)) {
        changes.put(table.toString(), new String[] {from, to});
      }
    }
    return changes;
  }

  /** Whether a table is there for the statements of one turn only. */
  private boolean small(TableIdentifier table) {
    String namespace = table.namespace().toString();
    return namespace.equals(scratch) || namespace.equals(LEDGER);
  }

  /** Where the metadata is of the tables that are there for this turn only. */
  synchronized List<String> made() {
    return current.entrySet().stream()
        .filter(table -> small(table.getKey()))
        .map(Map.Entry::getValue)
        .toList();
  }
}
