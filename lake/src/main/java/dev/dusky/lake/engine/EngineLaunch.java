package dev.dusky.lake.engine;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.failure.Invocation;
import dev.dusky.core.warehouse.EngineSettings;
import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * The command that starts the engine's process: this machine's Java, the engine's libraries, and
 * behind them our own classes.
 */
public final class EngineLaunch {

  /** What the engine needs of Java 17 and newer. */
  private static final List<String> OPENED =
      List.of(
          "java.lang",
          "java.lang.invoke",
          "java.lang.reflect",
          "java.io",
          "java.net",
          "java.nio",
          "java.util",
          "java.util.concurrent",
          "java.util.concurrent.atomic",
          "sun.nio.ch",
          "sun.nio.cs",
          "sun.security.action",
          "sun.util.calendar");

  private final String place;

  /** For tables at a place. */
  public EngineLaunch(String place) {
    this.place = place;
  }

  List<String> line(EngineSettings settings) {
    List<String> line = new ArrayList<>();
    line.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    line.add("-Xmx" + settings.memory());
    line.add("-XX:-UsePerfData");
    OPENED.forEach(name -> line.add("--add-opens=java.base/" + name + "=ALL-UNNAMED"));
    line.add("-cp");
    line.add(jars(settings).resolve("*") + File.pathSeparator + EngineClasses.PLACE);
    line.add("dev.dusky.engine.EngineProcess");
    line.add("spark.master=" + settings.at());
    if (!settings.local()) {
      line.add("spark.jars=" + EngineClasses.PLACE);
    }
    line.add("spark.sql.catalog.dusky_tables.warehouse=" + place);
    for (Map.Entry<String, String> option : settings.options().entrySet()) {
      line.add(option.getKey() + "=" + option.getValue());
    }
    return line;
  }

  /** The folder of the engine's libraries, if they are there. */
  public static Path jars(EngineSettings settings) {
    Path jars = settings.home().orElseGet(EngineSettings::installed).resolve("jars");
    if (!Files.isDirectory(jars)) {
      throw missing();
    }
    return jars;
  }

  private static Failure missing() {
    return Failure.configuration("The engine's libraries are not on this machine")
        .hint(
            "Install them with {}, or set warehouse.engine.home to a folder that has them below jars",
            Invocation.of("engine", "--install"));
  }
}
