package dev.dusky.core.expect;

import com.code_intelligence.jazzer.junit.FuzzTest;
import dev.dusky.core.failure.Failure;

/** Any bytes are a manifest or control file, or are said not to be one. */
class FiguresFuzzTest {

  @FuzzTest(maxDuration = "10m")
  void manifests(byte[] bytes) {
    try {
      Manifest manifest = FiguresJson.manifest("march.json", bytes);
      manifest.files().values().forEach(entry -> entry.figures().rows());
    } catch (Failure expected) {
      named(expected, "march.json");
    }
  }

  @FuzzTest(maxDuration = "10m")
  void sidecars(byte[] bytes) {
    try {
      FiguresJson.sidecar("06.csv.control.json", bytes);
    } catch (Failure expected) {
      named(expected, "06.csv.control.json");
    }
  }

  private static void named(Failure failure, String name) {
    if (!failure.getMessage().contains(name)) {
      throw new AssertionError("which file was wrong? " + failure.getMessage());
    }
  }
}
