package dev.dusky.app.stage;

import dev.dusky.core.bytes.Checksums;
import dev.dusky.core.bytes.TemporaryFolder;
import dev.dusky.core.depot.Depot;
import dev.dusky.core.expect.FiguresJson;
import dev.dusky.core.expect.Manifest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.stage.LocalFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The manifest of files that are staged: each required, with size and checksum. */
final class StagedManifest {

  private StagedManifest() {}

  /** Reads files for their checksums, before they are staged and perhaps removed. */
  static List<Manifest.Entry> entries(List<LocalFile> files) throws IOException {
    List<Manifest.Entry> entries = new ArrayList<>();
    for (LocalFile file : files) {
      entries.add(
          new Manifest.Entry(
              file.path(),
              true,
              Optional.of(file.size()),
              Optional.of(Checksums.sha256(file.file())),
              Optional.empty(),
              Map.of()));
    }
    return entries;
  }

  /** Writes it, once all of the files are in the depot. */
  static void write(Depot depot, String path, List<Manifest.Entry> entries) throws IOException {
    if (entries.stream().anyMatch(entry -> entry.path().equals(path))) {
      throw Failure.usage("The manifest cannot replace a staged file: " + path);
    }
    Path local = TemporaryFolder.newFile(".json");
    try {
      Files.writeString(local, FiguresJson.text(entries));
      depot.put(path, local);
    } finally {
      Files.delete(local);
    }
  }
}
