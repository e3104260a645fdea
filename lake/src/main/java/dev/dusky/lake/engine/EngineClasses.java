package dev.dusky.lake.engine;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.net.URL;
import java.nio.file.DirectoryStream;
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

  /** A jar that has them and nothing else, as long as this process lives. */
  static final Path PLACE = find();

  private EngineClasses() {}

  private static Path find() {
    URL found = EngineClasses.class.getClassLoader().getResource(FOLDER + "EngineProcess.class");
    if (found == null) {
      throw new IllegalStateException("the classes of the engine are missing");
    }
    try {
      Path own = Files.createTempFile("dusky-engine", ".jar");
      own.toFile().deleteOnExit();
      try (OutputStream out = Files.newOutputStream(own);
          JarOutputStream jar = new JarOutputStream(out)) {
        if (found.getProtocol().equals("file")) {
          copyFolder(Path.of(found.toURI()).getParent(), jar);
        } else {
          String program = found.getPath();
          copyJar(Path.of(new URI(program.substring(0, program.indexOf("!/")))), jar);
        }
      }
      return own;
    } catch (URISyntaxException e) {
      throw new IllegalStateException(e);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void copyFolder(Path classes, JarOutputStream jar) throws IOException {
    try (DirectoryStream<Path> all = Files.newDirectoryStream(classes)) {
      for (Path file : all) {
        jar.putNextEntry(new JarEntry(FOLDER + file.getFileName()));
        Files.copy(file, jar);
        jar.closeEntry();
      }
    }
  }

  private static void copyJar(Path program, JarOutputStream jar) throws IOException {
    try (JarFile from = new JarFile(program.toFile())) {
      List<JarEntry> classes =
          from.stream().filter(e -> e.getName().matches(FOLDER + "[^/]+")).toList();
      for (JarEntry entry : classes) {
        jar.putNextEntry(new JarEntry(entry.getName()));
        try (InputStream bytes = from.getInputStream(entry)) {
          bytes.transferTo(jar);
        }
        jar.closeEntry();
      }
    }
  }
}
