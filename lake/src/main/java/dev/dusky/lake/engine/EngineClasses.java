package dev.dusky.lake.engine;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.net.URL;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.jar.JarEntry;
import java.util.jar.JarFile;
import java.util.jar.JarOutputStream;

/**
 * The classes of the engine's process. They come with this program, whose other classes must not be
 * on the class path of that process: it has other versions of the same libraries.
 */
final class EngineClasses {

  private static final String FOLDER = "dev/dusky/engine/";

  /** Where they are: a folder, or a jar that lives as long as this process. */
  static final Path PLACE = find();

  private EngineClasses() {}

  private static Path find() {
    URL found = EngineClasses.class.getClassLoader().getResource(FOLDER + "EngineProcess.class");
    if (found == null) {
      throw new IllegalStateException("the classes of the engine are missing");
    }
    try {
      if (found.getProtocol().equals("file")) {
        return Path.of(found.toURI()).getParent().getParent().getParent().getParent();
      }
      String jar = found.getPath();
      return copy(Path.of(new URI(jar.substring(0, jar.indexOf("!/")))));
    } catch (URISyntaxException e) {
      throw new IllegalStateException(e);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static Path copy(Path program) throws IOException {
    Path own = Files.createTempFile("dusky-engine", ".jar");
    own.toFile().deleteOnExit();
    try (JarFile jar = new JarFile(program.toFile());
        OutputStream out = Files.newOutputStream(own);
        JarOutputStream copy = new JarOutputStream(out)) {
      List<JarEntry> classes = jar.stream().filter(e -> e.getName().startsWith(FOLDER)).toList();
      for (JarEntry entry : classes) {
        copy.putNextEntry(new JarEntry(entry.getName()));
        try (InputStream bytes = jar.getInputStream(entry)) {
          bytes.transferTo(copy);
        }
        copy.closeEntry();
      }
    }
    return own;
  }
}
