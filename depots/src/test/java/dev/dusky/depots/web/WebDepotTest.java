package dev.dusky.depots.web;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.depot.StagedFile;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.Depots;
import dev.dusky.depots.OddPaths;
import dev.dusky.depots.ReadingContract;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Folders of a web server. */
class WebDepotTest extends ReadingContract {

  private WebFolder server;
  private Depot depot;

  @BeforeEach
  void start() throws IOException {
    server = new WebFolder();
    depot = open(new Credentials.Anonymous());
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private Depot open(Credentials credentials) {
    return Depots.open(DepotAddress.of("partner", server.url()).with(credentials), Path.of("."));
  }

  @Override
  protected Depot depot() {
    return depot;
  }

  @Override
  protected StagedFile given(String path, byte[] bytes) {
    server.put(path, bytes);
    return depot.look(path).orElseThrow();
  }

  /** A URL with . or .. in it is another URL. */
  @Override
  protected List<String> oddPaths() {
    return OddPaths.with(path -> !OddPaths.resolved(path));
  }

  private String message(Depot of) {
    return assertThrows(Failure.class, () -> of.list("").hasNext()).getMessage();
  }

  @Test
  void readingResumesAfterCutsAndWaitsForABusyServer() throws IOException {
    byte[] bytes = random(500_000);
    StagedFile file = given("a.bin", bytes);
    server.cut(3);
    server.unavailable(2);
    try (InputStream in = depot.open(file)) {
      assertArrayEquals(bytes, in.readAllBytes());
    }
  }

  @Test
  void whereThereAreNoRangesReadingResumesWithTheWholeFile() throws IOException {
    byte[] bytes = random(500_000);
    StagedFile file = given("a.bin", bytes);
    server.withoutRanges();
    server.cut(2);
    try (InputStream in = depot.open(file)) {
      assertArrayEquals(bytes, in.readAllBytes());
    }
    assertArrayEquals(new byte[] {bytes[7], bytes[8]}, depot.bytes(file, 7, 2));
  }

  @Test
  void aServerWithoutEtagsAndDatesGivesFilesWithoutAMark() throws IOException {
    server.withoutMarks();
    assertEquals("unmarked", given("a.bin", random(10)).mark());
  }

  @Test
  void loginsAndTokensAreSent() throws IOException {
    given("a", random(1));
    server.authorization("Basic bWVyYTpodXNo");
    Optional<Secret> password = Optional.of(new Secret(() -> "hush"));
    Depot login = open(new Credentials.Login("mera", password, Optional.empty(), Optional.empty()));
    assertEquals("a", login.list("").next().path());
    server.authorization("Bearer hush");
    assertEquals(
        "a", open(new Credentials.Bearer(new Secret(() -> "hush"))).list("").next().path());
    assertTrue(message(depot).contains("answered 401"));
    assertTrue(message(depot).contains("under credentials:"));
  }

  @Test
  void aFolderWithoutAListSaysSoAndItsFilesCanBeNamed() {
    given("a.csv", random(9));
    server.withoutLists();
    assertTrue(message(depot).contains("answered 403"));
    assertEquals(9, depot.look("a.csv").orElseThrow().size());
  }

  @Test
  void redirectsAreFollowed() throws IOException {
    given("a.csv", "moved".getBytes());
    Depot moved =
        Depots.open(
            DepotAddress.of("partner", server.url().replace("/out", "/moved"))
                .with(new Credentials.Anonymous()),
            Path.of("."));
    try (InputStream in = moved.open(moved.look("a.csv").orElseThrow())) {
      assertEquals("moved", new String(in.readAllBytes()));
    }
  }

  @Test
  void nothingIsWritten() throws IOException {
    Path local = file("x", random(3));
    assertTrue(
        assertThrows(Failure.class, () -> depot.put("x", local))
            .getMessage()
            .contains("are only read"));
    assertThrows(Failure.class, () -> depot.remove("x"));
  }
}
