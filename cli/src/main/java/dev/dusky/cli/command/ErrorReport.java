package dev.dusky.cli.command;

import dev.dusky.app.workspace.Version;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;

/** Keeps what is known of an unexpected error in a file, for finding its cause. */
final class ErrorReport {

  private ErrorReport() {}

  /** Writes the report and gives a sentence that says where it is. */
  static String keep(Throwable error) {
    StringWriter text = new StringWriter();
    PrintWriter out = new PrintWriter(text);
    out.println("dusky " + Version.NUMBER + " at " + Instant.now());
    out.println(
        "Java %s (%s) on %s %s, at most %,d MiB of memory"
            .formatted(
                System.getProperty("java.version"),
                System.getProperty("java.vendor"),
                System.getProperty("os.name"),
                System.getProperty("os.arch"),
                Runtime.getRuntime().maxMemory() >> 20));
    error.printStackTrace(out);
    try {
      Path file = Files.createTempFile("dusky-error-", ".txt");
      Files.writeString(file, text.toString());
      return "A report is in " + file;
    } catch (IOException e) {
      return "Run again with --debug for the stack trace: a report could not be written ("
          + e.getMessage()
          + ")";
    }
  }
}
