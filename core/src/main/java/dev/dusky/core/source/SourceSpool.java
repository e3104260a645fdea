package dev.dusky.core.source;

import dev.dusky.core.concurrent.FolderLock;
import dev.dusky.core.expect.FiguresJson;
import dev.dusky.core.expect.Manifest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.ledger.SourceRun;
import dev.dusky.core.stage.LocalFile;
import java.io.IOException;
import java.io.Reader;
import java.io.Writer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Properties;
import java.util.stream.Stream;

/**
 * The folder in which the files of a source are made before the first of them is staged. Once all
 * are complete, {@code run.properties} appears in it, and a run that is stopped later is continued
 * with these files; a folder without it is what a stopped run has left, and is cleared.
 */
final class SourceSpool implements AutoCloseable {

  private static final String MANIFEST = "manifest.json";
  private static final String RUN = "run.properties";
  private static final String ROWS = ".rows";

  /**
   * The complete files of a run.
   *
   * @param run its entry
   * @param files the files, with their paths in the depot
   * @param manifest the manifest, with its path in the depot
   */
  record Complete(SourceRun run, List<LocalFile> files, LocalFile manifest) {}

  private final Path folder;
  private final FolderLock lock;

  private SourceSpool(Path folder, FolderLock lock) {
    this.folder = folder;
    this.lock = lock;
  }

  /** Takes the folder, or fails if another process has it. */
  static SourceSpool open(Path folder, String source) throws IOException {
    return new SourceSpool(
        folder,
        FolderLock.take(folder)
            .orElseThrow(
                () ->
                    Failure.usage("Source " + source + " is being staged already")
                        .because("another process uses " + folder)
                        .hint("Wait for its end")));
  }

  Path folder() {
    return folder;
  }

  /** What a run had completed that was stopped later. */
  Optional<Complete> complete() throws IOException {
    Path file = folder.resolve(RUN);
    if (!Files.exists(file)) {
      return Optional.empty();
    }
    Properties run = new Properties();
    try (Reader reader = Files.newBufferedReader(file)) {
      run.load(reader);
    }
    Path manifest = folder.resolve(MANIFEST);
    Manifest list = FiguresJson.manifest(manifest.toString(), Files.readAllBytes(manifest));
    List<LocalFile> files = new ArrayList<>();
    List<Path> rows = rows();
    for (Manifest.Entry entry : list.files().values()) {
      files.add(LocalFile.of(rows.get(files.size()), entry.path()));
    }
    return Optional.of(
        new Complete(entry(run), files, LocalFile.of(manifest, run.getProperty("manifest"))));
  }

  private static SourceRun entry(Properties run) {
    return new SourceRun(
        run.getProperty("source"),
        run.getProperty("depot"),
        run.getProperty("manifest"),
        Optional.ofNullable(run.getProperty("newer")),
        Optional.ofNullable(run.getProperty("high-water")),
        run.getProperty("shape"),
        run.getProperty("fingerprint"),
        Integer.parseInt(run.getProperty("files")),
        Long.parseLong(run.getProperty("rows")),
        Long.parseLong(run.getProperty("bytes")),
        Instant.parse(run.getProperty("started")),
        Instant.now(),
        run.getProperty("by"),
        run.getProperty("host"));
  }

  /** Notes that all files are complete, in the order of their names, and how they are listed. */
  void complete(SourceRun run, List<Manifest.Entry> entries) throws IOException {
    Files.writeString(folder.resolve(MANIFEST), FiguresJson.text(entries));
    force(folder.resolve(MANIFEST));
    Properties text = new Properties();
    text.setProperty("source", run.source());
    text.setProperty("depot", run.depot());
    text.setProperty("manifest", run.manifest());
    run.newer().ifPresent(newer -> text.setProperty("newer", newer));
    run.highWater().ifPresent(high -> text.setProperty("high-water", high));
    text.setProperty("shape", run.shape());
    text.setProperty("fingerprint", run.fingerprint());
    text.setProperty("files", Integer.toString(run.files()));
    text.setProperty("rows", Long.toString(run.rows()));
    text.setProperty("bytes", Long.toString(run.bytes()));
    text.setProperty("started", run.startedAt().toString());
    text.setProperty("by", run.stagedBy());
    text.setProperty("host", run.host());
    Path made = folder.resolve(RUN + ".made");
    try (Writer writer = Files.newBufferedWriter(made, StandardCharsets.UTF_8)) {
      text.store(writer, null);
    }
    force(made);
    Files.move(made, folder.resolve(RUN), StandardCopyOption.ATOMIC_MOVE);
  }

  private static void force(Path file) throws IOException {
    try (FileChannel channel = FileChannel.open(file, StandardOpenOption.WRITE)) {
      channel.force(true);
    }
  }

  private List<Path> rows() throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files.filter(file -> file.toString().endsWith(ROWS)).sorted().toList();
    }
  }

  /** Removes all files; what says that they are complete goes first. */
  void clear() throws IOException {
    Files.deleteIfExists(folder.resolve(RUN));
    Files.deleteIfExists(folder.resolve(MANIFEST));
    for (Path file : rows()) {
      Files.delete(file);
    }
  }

  @Override
  public void close() throws IOException {
    lock.close();
  }
}
