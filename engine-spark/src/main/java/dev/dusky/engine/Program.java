package dev.dusky.engine;

import java.io.File;
import java.io.IOException;
import java.io.Serializable;
import java.lang.reflect.InvocationTargetException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import org.apache.spark.SparkContext;
import org.apache.spark.SparkFiles;

/**
 * The program, apart from the engine's own classes: it has other versions of the same libraries. On
 * each machine its classes are loaded once in each process.
 */
final class Program implements Serializable {

  private static final long serialVersionUID = 1;

  private static final Map<List<String>, ClassLoader> LOADED = new HashMap<>();

  private final ArrayList<String> classes;
  private final boolean local;

  private Program(List<String> classes, boolean local) {
    this.classes = new ArrayList<>(classes);
    this.local = local;
  }

  /**
   * The program, brought to the engine's machines.
   *
   * @param classes its class path on this machine
   */
  static Program on(SparkContext engine, List<String> classes) {
    if (!engine.isLocal()) {
      classes.stream()
          .filter(entry -> Files.isRegularFile(Path.of(entry)))
          .forEach(engine::addFile);
    }
    return new Program(classes, engine.isLocal());
  }

  private ClassLoader loader() throws IOException {
    synchronized (LOADED) {
      ClassLoader loaded = LOADED.get(classes);
      if (loaded == null) {
        List<URL> urls = new ArrayList<>();
        for (String entry : classes) {
          File sent =
              local ? null : new File(SparkFiles.get(Path.of(entry).getFileName().toString()));
          boolean here = sent == null || !sent.isFile();
          urls.add((here ? new File(entry) : sent).toURI().toURL());
        }
        loaded = new URLClassLoader(urls.toArray(new URL[0]), ClassLoader.getPlatformClassLoader());
        LOADED.put(List.copyOf(classes), loaded);
      }
      return loaded;
    }
  }

  /** Calls a static method of the program, which knows none but Java's own types. */
  Object call(String worker, String name, Class<?>[] types, Object... arguments)
      throws IOException {
    ClassLoader loader = loader();
    return within(
        () -> Class.forName(worker, true, loader).getMethod(name, types).invoke(null, arguments));
  }

  /** An object of the program, made of an order. */
  Object open(String worker, byte[] order) throws IOException {
    ClassLoader loader = loader();
    return within(
        () -> Class.forName(worker, true, loader).getConstructor(byte[].class).newInstance(order));
  }

  /**
   * Runs something of the program as it runs elsewhere: its libraries look for their parts among
   * the program's classes. The engine knows none of these, so what fails travels as text.
   */
  <T> T within(Callable<T> work) throws IOException {
    Thread thread = Thread.currentThread();
    ClassLoader engine = thread.getContextClassLoader();
    thread.setContextClassLoader(loader());
    try {
      return work.call();
    } catch (InvocationTargetException e) {
      throw words(e.getCause());
    } catch (Exception e) {
      throw words(e);
    } finally {
      thread.setContextClassLoader(engine);
    }
  }

  private static IOException words(Throwable failed) {
    StringBuilder words = new StringBuilder();
    for (Throwable t = failed; t != null && t != t.getCause(); t = t.getCause()) {
      words.append(t).append('\n');
      for (StackTraceElement element : t.getStackTrace()) {
        words.append("  at ").append(element).append('\n');
      }
    }
    return new IOException(String.valueOf(failed), new IOException(words.toString()));
  }
}
