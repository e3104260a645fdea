package dev.dusky.core.stage;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.attribute.FileTime;

/** A file that is here while it is staged; one that was fetched for that is removed afterwards. */
final class FetchedFile implements AutoCloseable {

  private final LocalFile file;

  /** Has the file here, fetching it if it has an origin. */
  FetchedFile(LocalFile file) {
    this.file = file;
    if (file.origin().isEmpty()) {
      return;
    }
    try {
      file.origin().get().fetch(file.file());
      Files.setLastModifiedTime(file.file(), FileTime.from(file.modified()));
      if (Files.size(file.file()) != file.size()) {
        throw new IOException(
            "%,d of %,d bytes came".formatted(Files.size(file.file()), file.size()));
      }
    } catch (IOException e) {
      throw failed(e);
    } catch (Failure failure) {
      // A file that cannot be fetched does not stop the others.
      throw failure.kind() == Failure.Kind.INTERRUPTED ? failure : failed(failure);
    }
  }

  private Failure failed(Exception e) {
    return Failure.file("Fetching " + file.origin().orElseThrow().place() + " failed")
        .because(String.valueOf(e.getMessage()))
        .hint("Nothing of it was staged; run it again")
        .from(e);
  }

  @Override
  public void close() {
    if (file.origin().isPresent()) {
      try {
        Files.deleteIfExists(file.file());
      } catch (IOException e) {
        throw Failure.file("The temporary file " + file.file() + " was not removed")
            .because(String.valueOf(e.getMessage()))
            .hint("Remove it yourself; the file was staged")
            .from(e);
      }
    }
  }
}
