package dev.dusky.engine;

import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.apache.iceberg.CatalogUtil;
import org.apache.iceberg.DataFile;
import org.apache.iceberg.DeleteFile;
import org.apache.iceberg.ManifestFile;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.TableMetadata.MetadataLogEntry;
import org.apache.iceberg.TableMetadataParser;
import org.apache.iceberg.io.FileIO;

/** Removes files that no pointer will lead to. */
final class Leftovers {

  private Leftovers() {}

  /** Removes whole tables, by their metadata. */
  static void drop(Collection<String> tables) {
    FileIO files = WorkingPointers.HERE.files();
    for (String metadata : tables) {
      CatalogUtil.dropTableData(files, TableMetadataParser.read(files, metadata));
    }
  }

  /** Removes what a table has got between two of its metadata files. */
  static void undo(String before, String after) {
    FileIO files = WorkingPointers.HERE.files();
    if (before == null) {
      drop(List.of(after));
      return;
    }
    if (after == null) {
      return; // a table that was dropped, and is not after all
    }
    TableMetadata base = TableMetadataParser.read(files, before);
    TableMetadata changed = TableMetadataParser.read(files, after);
    Set<Long> known = new HashSet<>();
    base.snapshots().forEach(snapshot -> known.add(snapshot.snapshotId()));
    for (Snapshot snapshot : changed.snapshots()) {
      if (!known.contains(snapshot.snapshotId())) {
        undo(snapshot, files);
      }
    }
    Set<String> kept = new HashSet<>();
    kept.add(before);
    base.previousFiles().stream().map(MetadataLogEntry::file).forEach(kept::add);
    changed.previousFiles().stream()
        .map(MetadataLogEntry::file)
        .filter(file -> !kept.contains(file))
        .forEach(files::deleteFile);
    files.deleteFile(after);
  }

  private static void undo(Snapshot snapshot, FileIO files) {
    for (DataFile file : snapshot.addedDataFiles(files)) {
      files.deleteFile(file.location());
    }
    for (DeleteFile file : snapshot.addedDeleteFiles(files)) {
      files.deleteFile(file.location());
    }
    for (ManifestFile manifest : snapshot.allManifests(files)) {
      if (manifest.snapshotId() == snapshot.snapshotId()) {
        files.deleteFile(manifest.path());
      }
    }
    files.deleteFile(snapshot.manifestListLocation());
  }
}
