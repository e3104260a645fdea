package dev.dusky.lake.file;

import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import org.apache.iceberg.ManifestFile;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.TableMetadataParser;
import org.apache.iceberg.io.FileIO;

/** Brings files onto the disk that another process has written, before a pointer leads to them. */
public final class Durable {

  private Durable() {}

  /**
   * Forces what a table has got between two of its metadata files; a store needs nothing.
   *
   * @param before its metadata before, if the table was there
   */
  public static void force(FileIO files, Optional<String> before, String after) {
    if (!(files instanceof FolderFiles folder)) {
      return;
    }
    Set<Long> known = new HashSet<>();
    before.ifPresent(was -> read(files, was).snapshots().forEach(s -> known.add(s.snapshotId())));
    for (Snapshot snapshot : read(files, after).snapshots()) {
      if (known.contains(snapshot.snapshotId())) {
        continue;
      }
      snapshot.addedDataFiles(files).forEach(file -> folder.force(file.location()));
      snapshot.addedDeleteFiles(files).forEach(file -> folder.force(file.location()));
      for (ManifestFile manifest : snapshot.allManifests(files)) {
        if (manifest.snapshotId() == snapshot.snapshotId()) {
          folder.force(manifest.path());
        }
      }
      folder.force(snapshot.manifestListLocation());
    }
    folder.force(after);
  }

  private static TableMetadata read(FileIO files, String location) {
    return TableMetadataParser.read(files, location);
  }
}
