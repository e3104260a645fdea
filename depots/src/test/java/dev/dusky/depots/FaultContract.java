package dev.dusky.depots;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.bytes.StorageException;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.standin.Faults;
import java.io.IOException;
import java.io.InputStream;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What depots behind a network promise when the network or the store fails. */
public abstract class FaultContract extends DepotContract {

  /** The faults of the store behind the depot. */
  protected abstract Faults faults();

  @Test
  void readingResumesWhereTheConnectionWasCut() throws IOException {
    byte[] bytes = random(3_000_000);
    StagedFile staged = given("a", bytes);
    faults().cut(4, 500_000);
    try (InputStream in = depot().open(staged)) {
      assertArrayEquals(bytes, in.readAllBytes());
    }
  }

  @Test
  void readingGivesUpWhenItNeverGetsOn() throws IOException {
    StagedFile staged = given("a", random(3_000_000));
    faults().cut(1000, 0);
    try (InputStream in = depot().open(staged)) {
      StorageException e = assertThrows(StorageException.class, in::readAllBytes);
      assertTrue(e.getMessage().contains("broke off"), e.getMessage());
    }
  }

  /** What was fetched before the change may be given; the two versions are never mixed. */
  @Test
  void aFileThatChangesBehindACutIsNoticed() throws IOException {
    byte[] bytes = random(20_000_000);
    StagedFile staged = given("a", bytes);
    faults().cut(1, 400_000);
    try (InputStream in = depot().open(staged)) {
      in.readNBytes(1000);
      given("a", random(20_000_001));
      Failure failure = assertThrows(Failure.class, in::readAllBytes);
      assertTrue(failure.getMessage().contains("changed since it was listed"));
    }
  }

  @Test
  void whatPassesByItselfIsTriedAgain() throws IOException {
    StagedFile staged = given("a", "hello".getBytes());
    faults().unavailable(2);
    try (InputStream in = depot().open(staged)) {
      assertEquals("hello", new String(in.readAllBytes()));
    }
    faults().answer(2, new Faults.Answer(429, Map.of("Retry-After", "0"), ""));
    assertEquals(staged.version(), depot().look("a").orElseThrow().version());
  }

  @Test
  void lastingTroubleIsReportedWithTheStatus() {
    faults().unavailable(1000);
    Failure failure = assertThrows(Failure.class, () -> depot().list("").hasNext());
    assertEquals(Failure.Kind.DEPOT, failure.kind());
    assertTrue(failure.getMessage().contains("503"), failure.getMessage());
  }
}
