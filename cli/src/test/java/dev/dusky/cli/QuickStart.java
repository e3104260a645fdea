package dev.dusky.cli;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;

/**
 * The JVM's archive of the program's classes, as the launcher has one; made once by each process
 * that runs tests.
 */
final class QuickStart {

  private static final List<String> OPTIONS = make();

  private QuickStart() {}

  /** The options that make the JVM use it. */
  static List<String> options() {
    return OPTIONS;
  }

  private static List<String> make() {
    try {
      Path folder = Files.createTempDirectory("dusky-archive-");
      Path archive = folder.resolve("dusky.jsa");
      Files.writeString(folder.resolve("a.csv"), "n\n1\n");
      Files.writeString(
          folder.resolve("dusky.yaml"),
          """
          warehouse: jdbc:h2:file:./warehouse
          depots: { yard: "file:." }
          layouts: { a: { kind: delimited } }
          feeds:
            a: { depot: yard, files: "*.csv", layout: a, into: x.a, create: true, columns: { n: integer } }
          """);
      Process process =
          new ProcessBuilder(
                  Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                  "-XX:+UseSerialGC",
                  "-XX:ArchiveClassesAtExit=" + archive,
                  "-jar",
                  Program.JAR.toString(),
                  "load")
              .directory(folder.toFile())
              .redirectErrorStream(true)
              .redirectOutput(folder.resolve("out").toFile())
              .start();
      if (!process.waitFor(2, TimeUnit.MINUTES) || process.exitValue() != 0) {
        throw new IllegalStateException(Files.readString(folder.resolve("out")));
      }
      return List.of(
          "-XX:SharedArchiveFile=" + archive,
          "-Xshare:auto",
          "-XX:+IgnoreUnrecognizedVMOptions",
          "-XX:+UnlockDiagnosticVMOptions",
          "-XX:ArchiveRelocationMode=0",
          "-Xlog:cds=off",
          "-Xlog:cds+dynamic=off");
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(e);
    }
  }
}
