package dev.dusky.app.engine;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.warehouse.EngineSettings;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/** Fetches the engine's libraries with Maven. The folder is either whole or not there. */
public final class InstallEngine {

  /** The goal of Maven that copies libraries. */
  private static final String GOAL =
      "org.apache.maven.plugins:maven-dependency-plugin:3.8.1:copy-dependencies";

  private final Path folder;

  /** An installation in the usual folder. */
  public InstallEngine() {
    this(EngineSettings.installed());
  }

  /** An installation in that folder. */
  public InstallEngine(Path folder) {
    this.folder = folder;
  }

  /** The folder. */
  public Path folder() {
    return folder;
  }

  /** How many libraries are there, and their bytes. */
  public Libraries libraries() {
    Path jars = folder.resolve("jars");
    if (!Files.isDirectory(jars)) {
      return new Libraries(0, 0);
    }
    int count = 0;
    long bytes = 0;
    try (DirectoryStream<Path> all = Files.newDirectoryStream(jars, "*.jar")) {
      for (Path jar : all) {
        count++;
        bytes += Files.size(jar);
      }
    } catch (IOException e) {
      throw failed("the folder cannot be read: " + e.getMessage()).from(e);
    }
    return new Libraries(count, bytes);
  }

  /**
   * What an installation has.
   *
   * @param count how many libraries
   * @param bytes their size together
   */
  public record Libraries(int count, long bytes) {}

  /** Fetches them, in place of those that are there. */
  public Libraries run() {
    Path next = folder.resolveSibling(folder.getFileName() + ".next");
    try {
      delete(next);
      Files.createDirectories(next);
      Path project = next.resolve("pom.xml");
      try (InputStream text = InstallEngine.class.getResourceAsStream("libraries.xml")) {
        Files.copy(text, project);
      }
      fetch(project, next.resolve("jars"));
      delete(folder);
      Files.move(next, folder, StandardCopyOption.ATOMIC_MOVE);
    } catch (IOException e) {
      throw failed(e.getMessage()).from(e);
    }
    return libraries();
  }

  private void fetch(Path project, Path jars) throws IOException {
    Process maven;
    try {
      maven =
          new ProcessBuilder(
                  "mvn",
                  "-B",
                  "-q",
                  "-f",
                  project.toString(),
                  GOAL,
                  "-DoutputDirectory=" + jars,
                  "-DincludeScope=runtime")
              .redirectErrorStream(true)
              .start();
    } catch (IOException e) {
      throw failed("Maven cannot be started: " + e.getMessage())
          .hint(
              "Install Maven, or set warehouse.engine.home to a folder that has the libraries below jars")
          .from(e);
    }
    String last = "";
    try (BufferedReader lines =
        new BufferedReader(new InputStreamReader(maven.getInputStream(), StandardCharsets.UTF_8))) {
      for (String line = lines.readLine(); line != null; line = lines.readLine()) {
        last = last.isEmpty() && line.contains("ERROR") ? line.strip() : last;
      }
      if (maven.waitFor() != 0) {
        throw failed("Maven failed: " + last);
      }
    } catch (InterruptedException e) {
      maven.destroy();
      Thread.currentThread().interrupt();
      throw failed("it was interrupted").from(e);
    }
  }

  private Failure failed(String why) {
    return Failure.configuration("The engine's libraries could not be installed in " + folder)
        .because(why)
        .hint("Nothing that was there before was changed");
  }

  private static void delete(Path folder) throws IOException {
    if (!Files.exists(folder)) {
      return;
    }
    List<Path> all;
    try (Stream<Path> walk = Files.walk(folder)) {
      all = walk.sorted(Comparator.reverseOrder()).toList();
    }
    for (Path path : all) {
      Files.delete(path);
    }
  }
}
