package dev.dusky.core.draft;

import com.code_intelligence.jazzer.junit.FuzzTest;
import dev.dusky.core.layout.Encoding;
import java.io.IOException;

/** Any bytes give a layout or none. */
class DraftFuzzTest {

  @FuzzTest(maxDuration = "10m")
  void delimited(byte[] bytes) throws IOException {
    if (bytes.length > 0) {
      new DelimitedGuess(bytes, Encoding.UTF_8).guess();
      ContentKind.of(bytes);
    }
  }
}
