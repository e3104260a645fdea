package dev.dusky.core.load;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.core.reject.Problem;
import dev.dusky.core.reject.Reject;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.tally.Tolerance;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class WrongFileDetectorTest {

  private static final Tolerance ANY = new Tolerance.Any();

  private static Reject reject(int number, String... columns) {
    List<Problem> problems = new ArrayList<>();
    for (String column : columns) {
      problems.add(new Problem(RejectCode.BAD_NUMBER, column, "x", "m"));
    }
    return new Reject(
        number, number, 0, "", new byte[] {'x'}, false, 0, Reject.NO_CONTEXT, problems);
  }

  private static Optional<String> verdict(int read, int rejected, Tolerance tolerance) {
    WrongFileDetector fault = new WrongFileDetector();
    for (int i = 0; i < rejected; i++) {
      fault.add(i % 40 == 39 ? reject(i, "other") : reject(i, "a", i % 2 == 0 ? "b" : "c"));
    }
    return fault.verdict(read, rejected, tolerance);
  }

  @Test
  void whatNearlyAllHaveInCommonIsNamed() {
    assertEquals(Optional.of("bad-number in a"), verdict(100, 97, Tolerance.NONE));
    assertEquals(Optional.of("bad-number in a"), verdict(100, 95, Tolerance.parse("90%").get()));
  }

  @Test
  void aFewRecordsOrSomeGoodOnesProveNothing() {
    assertEquals(Optional.empty(), verdict(19, 19, Tolerance.NONE));
    assertEquals(Optional.empty(), verdict(100, 94, Tolerance.NONE));
  }

  @Test
  void aToleranceForAllOfThemIsRespected() {
    assertEquals(Optional.empty(), verdict(100, 100, ANY));
    assertEquals(Optional.empty(), verdict(100, 100, Tolerance.parse("100").get()));
  }

  @Test
  void faultsOfAllKindsAreNoWrongFile() {
    WrongFileDetector fault = new WrongFileDetector();
    for (int i = 0; i < 100; i++) {
      fault.add(reject(i, "column" + i % 5));
    }
    assertEquals(Optional.empty(), fault.verdict(100, 100, Tolerance.NONE));
    assertEquals(0, fault.reject("m").recordNumber());
    assertEquals(RejectCode.WRONG_FILE, fault.reject("m").problems().get(0).code());
  }
}
