package dev.dusky.lake.tidy;

import dev.dusky.lake.file.StoredFiles;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.HashSet;
import java.util.Set;
import org.apache.iceberg.DeleteFile;
import org.apache.iceberg.ManifestContent;
import org.apache.iceberg.ManifestFile;
import org.apache.iceberg.ManifestFiles;
import org.apache.iceberg.ManifestReader;
import org.apache.iceberg.Snapshot;
import org.apache.iceberg.TableMetadata;
import org.apache.iceberg.io.CloseableIterable;
import org.apache.iceberg.io.FileIO;

/**
 * The files that a table needs: its metadata and the earlier ones that it names, and all that its
 * states consist of. A file that is missing here is removed, so what cannot be read is a failure.
 */
final class NeededFiles {

  private final FileIO files;
  private final StoredFiles stored;
  private final Set<String> locations = new HashSet<>();
  private final Set<String> manifests = new HashSet<>();

  NeededFiles(FileIO files, StoredFiles stored) {
    this.files = files;
    this.stored = stored;
  }

  /** Adds those of a table. */
  void add(TableMetadata table) {
    add(table.metadataFileLocation());
    table.previousFiles().forEach(earlier -> add(earlier.file()));
    table.statisticsFiles().forEach(statistics -> add(statistics.path()));
    table.partitionStatisticsFiles().forEach(statistics -> add(statistics.path()));
    for (Snapshot snapshot : table.snapshots()) {
      add(snapshot.manifestListLocation());
      for (ManifestFile manifest : snapshot.allManifests(files)) {
        if (manifests.add(manifest.path())) {
          add(manifest.path());
          add(manifest, table);
        }
      }
    }
  }

  private void add(ManifestFile manifest, TableMetadata table) {
    if (manifest.content() == ManifestContent.DATA) {
      try (CloseableIterable<String> paths =
          ManifestFiles.readPaths(manifest, files, table.specsById())) {
        paths.forEach(this::add);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
      return;
    }
    try (ManifestReader<DeleteFile> deletes =
        ManifestFiles.readDeleteManifest(manifest, files, table.specsById())) {
      deletes.forEach(file -> add(file.location()));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void add(String location) {
    if (location != null) {
      locations.add(stored.plain(location));
    }
  }

  /** Whether a table needs the file. */
  boolean has(String location) {
    return locations.contains(location);
  }
}
