package dev.dusky.lake.engine;

import dev.dusky.core.warehouse.EngineSettings;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.jar.JarEntry;
import java.util.jar.JarOutputStream;
import javax.tools.ToolProvider;

/**
 * A process in place of the engine's. It says its first line, and the next ones as answers to one
 * request each, whatever that is, an empty line as none; behind the last it ends, with a last word
 * on its standard error.
 */
final class FakeEngine {

  private static final String SOURCE =
      """
      package dev.dusky.engine;

      import java.io.BufferedReader;
      import java.io.InputStreamReader;
      import java.util.Iterator;

      public final class EngineProcess {
        public static void main(String[] arguments) throws Exception {
          Iterator<String> lines;
          try (BufferedReader all = new BufferedReader(new InputStreamReader(
              EngineProcess.class.getResourceAsStream("/lines")))) {
            lines = all.lines().toList().iterator();
          }
          BufferedReader requests = new BufferedReader(new InputStreamReader(System.in));
          System.out.println(lines.next());
          while (lines.hasNext() && requests.readLine() != null) {
            String next = lines.next();
            for (String answer : next.isEmpty() ? new String[0] : next.split(" && ")) {
              System.out.println(answer);
            }
          }
          System.err.println("the last word");
        }
      }
      """;

  private FakeEngine() {}

  /** An engine that says these lines, with its libraries in that folder. */
  static Engine in(Path folder, List<String> lines) throws IOException {
    return new Engine(
        new EngineSettings("local[1]", Optional.of(home(folder, lines)), "64m", Map.of()),
        new EngineLaunch("file:" + folder.resolve("tables")),
        Optional.empty());
  }

  private static Path home(Path folder, List<String> lines) throws IOException {
    Path source = Files.writeString(folder.resolve("EngineProcess.java"), SOURCE);
    int compiled =
        ToolProvider.getSystemJavaCompiler()
            .run(null, null, null, "-proc:none", "-d", folder.toString(), source.toString());
    if (compiled != 0) {
      throw new IllegalStateException("the fake engine was not compiled");
    }
    String name = "dev/dusky/engine/EngineProcess.class";
    Path jar = Files.createDirectories(folder.resolve("jars")).resolve("fake.jar");
    try (OutputStream out = Files.newOutputStream(jar);
        JarOutputStream all = new JarOutputStream(out)) {
      all.putNextEntry(new JarEntry(name));
      Files.copy(folder.resolve(name), all);
      all.putNextEntry(new JarEntry("lines"));
      all.write(String.join("\n", lines).getBytes(java.nio.charset.StandardCharsets.UTF_8));
    }
    return folder;
  }
}
