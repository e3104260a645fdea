package dev.dusky.cli.torture;

import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A short round of the torture in each build. */
class TortureIT {

  private static final int ROUNDS = 2;

  @TempDir Path folder;

  @Test
  void whateverIsKilledAndCutEachFileIsLoadedAndMergedOnce() throws Exception {
    int[] rounds = {0};
    try (Torture torture = new Torture(folder, 20_260_302)) {
      torture.run(() -> rounds[0]++ < ROUNDS);
    }
  }
}
