package dev.dusky.core.draft;

import static org.junit.jupiter.api.Assertions.assertEquals;

import com.code_intelligence.jazzer.junit.FuzzTest;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.layout.Encoding;
import java.io.IOException;

/** Any bytes give a layout, or none, or the refusal of one file. */
class DraftFuzzTest {

  @FuzzTest(maxDuration = "10m")
  void delimited(byte[] bytes) throws IOException {
    if (bytes.length > 0) {
      ContentKind.of(bytes);
      try {
        new DelimitedGuess(bytes, Encoding.UTF_8).guess();
      } catch (Failure failure) {
        assertEquals(Failure.Kind.FILE, failure.kind(), failure::getMessage);
      }
    }
  }
}
