package dev.dusky.lake.engine;

import java.io.File;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

/** This program as the engine's machines get it: the entries of its class path. */
final class ProgramClasses {

  static final List<String> ALL =
      Stream.of(System.getProperty("java.class.path").split(File.pathSeparator))
          .map(entry -> Path.of(entry).toAbsolutePath().normalize().toString())
          .toList();

  private ProgramClasses() {}
}
