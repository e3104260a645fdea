package dev.dusky.lake;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** The engine's libraries as an installation has them, out of what the build has fetched. */
public final class EngineFolder {

  private EngineFolder() {}

  /** Lays a folder out whose {@code jars} are the libraries. */
  public static Path in(Path folder) throws IOException {
    Path jars = Files.createDirectories(folder.resolve("jars"));
    Path list = Path.of("..", "engine-spark", "target", "classpath");
    for (String jar : Files.readString(list).strip().split(java.io.File.pathSeparator)) {
      Path link = jars.resolve(Path.of(jar).getFileName());
      if (!Files.exists(link)) {
        Files.createSymbolicLink(link, Path.of(jar));
      }
    }
    return folder;
  }
}
