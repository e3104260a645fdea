package dev.dusky.engine;

import java.io.File;
import java.io.IOException;
import java.lang.reflect.InvocationTargetException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.apache.spark.SparkFiles;

/**
 * The program on one of the engine's machines, apart from the engine's own classes: it has other
 * versions of the same libraries. Loaded once in each process.
 */
final class Program {

  private static final Map<List<String>, Program> LOADED = new HashMap<>();

  private final ClassLoader loader;

  private Program(ClassLoader loader) {
    this.loader = loader;
  }

  /**
   * The program.
   *
   * @param classes its class path where it was started
   * @param local whether that is this machine; else its jars were sent here
   */
  static synchronized Program of(List<String> classes, boolean local) throws IOException {
    Program loaded = LOADED.get(classes);
    if (loaded == null) {
      List<URL> urls = new ArrayList<>();
      for (String entry : classes) {
        File sent =
            local ? null : new File(SparkFiles.get(Path.of(entry).getFileName().toString()));
        boolean here = sent == null || !sent.isFile();
        urls.add((here ? new File(entry) : sent).toURI().toURL());
      }
      loaded =
          new Program(
              new URLClassLoader(urls.toArray(new URL[0]), ClassLoader.getPlatformClassLoader()));
      LOADED.put(List.copyOf(classes), loaded);
    }
    return loaded;
  }

  /** Has the program attempt a part. */
  byte[] run(String worker, byte[] order, byte[] part) throws Exception {
    Thread thread = Thread.currentThread();
    ClassLoader engine = thread.getContextClassLoader();
    thread.setContextClassLoader(loader);
    try {
      return (byte[])
          Class.forName(worker, true, loader)
              .getMethod("run", byte[].class, byte[].class)
              .invoke(null, order, part);
    } catch (InvocationTargetException e) {
      // The engine knows none of the program's classes, so what failed travels as text.
      throw new IllegalStateException(String.valueOf(e.getCause()), new RuntimeException(words(e)));
    } finally {
      thread.setContextClassLoader(engine);
    }
  }

  private static String words(InvocationTargetException e) {
    StringBuilder words = new StringBuilder();
    for (Throwable t = e.getCause(); t != null && t != t.getCause(); t = t.getCause()) {
      words.append(t).append('\n');
      for (StackTraceElement element : t.getStackTrace()) {
        words.append("  at ").append(element).append('\n');
      }
    }
    return words.toString();
  }
}
