package dev.dusky.depots.sftp;

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
import dev.dusky.depots.address.Network;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.security.KeyPair;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.apache.sshd.common.config.keys.PublicKeyEntry;
import org.apache.sshd.common.config.keys.writer.openssh.OpenSSHKeyPairResourceWriter;
import org.apache.sshd.common.file.virtualfs.VirtualFileSystemFactory;
import org.apache.sshd.common.keyprovider.KeyPairProvider;
import org.apache.sshd.common.util.security.SecurityUtils;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.sftp.server.SftpSubsystemFactory;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Folders of an SFTP server. */
class SftpDepotTest extends ReadingContract {

  private static KeyPair host;
  private static KeyPair user;

  @TempDir Path served;
  @TempDir Path home;
  private SshServer server;
  private Depot depot;
  private Instant next = Instant.parse("2026-11-01T00:00:00Z");

  @BeforeAll
  static void keys() throws Exception {
    host = pair();
    user = pair();
  }

  private static KeyPair pair() throws Exception {
    var generator = SecurityUtils.getKeyPairGenerator("EC");
    generator.initialize(256);
    return generator.generateKeyPair();
  }

  @AfterAll
  static void forget() {
    host = null;
    user = null;
  }

  @BeforeEach
  void start() throws IOException {
    server = SshServer.setUpDefaultServer();
    server.setHost("127.0.0.1");
    server.setKeyPairProvider(KeyPairProvider.wrap(host));
    server.setPasswordAuthenticator((name, password, session) -> password.equals("hush"));
    server.setPublickeyAuthenticator((name, key, session) -> key.equals(user.getPublic()));
    server.setSubsystemFactories(List.of(new SftpSubsystemFactory()));
    server.setFileSystemFactory(new VirtualFileSystemFactory(served));
    server.start();
    depot = open(password("hush"), known(host));
  }

  @AfterEach
  void stop() throws IOException {
    depot.close();
    server.stop(true);
  }

  private Path known(KeyPair pair) throws IOException {
    return Files.writeString(
        home.resolve("known_hosts"),
        "[127.0.0.1]:%d %s\n"
            .formatted(server.getPort(), PublicKeyEntry.toString(pair.getPublic())));
  }

  private static Credentials password(String text) {
    return new Credentials.Login(
        "mera", Optional.of(new Secret(() -> text)), Optional.empty(), Optional.empty());
  }

  private Depot open(Credentials credentials, Path knownHosts) {
    Network network =
        new Network(
            Optional.empty(),
            Optional.empty(),
            Duration.ofSeconds(10),
            Duration.ofSeconds(10),
            Optional.of(knownHosts));
    return Depots.open(
        DepotAddress.of("partner", "sftp://127.0.0.1:" + server.getPort() + "/out")
            .with(credentials)
            .with(network),
        Path.of("."));
  }

  @Override
  protected Depot depot() {
    return depot;
  }

  /** Each file gets a date of its own: all that the protocol says of a change. */
  @Override
  protected StagedFile given(String path, byte[] bytes) throws IOException {
    Path file = served.resolve("out").resolve(path);
    Files.createDirectories(file.getParent());
    Files.write(file, bytes);
    next = next.plusSeconds(60);
    Files.setLastModifiedTime(file, FileTime.from(next));
    return depot.look(path).orElseThrow();
  }

  @Override
  protected List<String> paths(String prefix) {
    try {
      Files.createDirectories(served.resolve("out"));
    } catch (IOException e) {
      throw new AssertionError(e);
    }
    return super.paths(prefix);
  }

  @Override
  protected List<String> oddPaths() {
    return OddPaths.with(path -> !OddPaths.resolved(path));
  }

  private static String message(Depot of) {
    return assertThrows(Failure.class, () -> of.list("").hasNext()).getMessage();
  }

  @Test
  void aPrivateKeyLogsIn() throws Exception {
    given("a.csv", random(5));
    Path file = home.resolve("id");
    try (var out = Files.newOutputStream(file)) {
      OpenSSHKeyPairResourceWriter.INSTANCE.writePrivateKey(user, "test", null, out);
    }
    Credentials key =
        new Credentials.Login("mera", Optional.empty(), Optional.of(file), Optional.empty());
    try (Depot other = open(key, known(host))) {
      assertEquals("a.csv", other.list("").next().path());
    }
  }

  @Test
  void anUnknownServerIsRefusedWithItsKeyAndTheLineThatTrustsIt() throws Exception {
    try (Depot unknown = open(password("hush"), home.resolve("nothing"))) {
      String message = message(unknown);
      assertTrue(message.contains("is not trusted"), message);
      assertTrue(message.contains("SHA256:"), message);
      assertTrue(
          message.contains(
              "[127.0.0.1]:%d %s"
                  .formatted(server.getPort(), PublicKeyEntry.toString(host.getPublic()))),
          message);
    }
    try (Depot other = open(password("hush"), known(user))) {
      assertTrue(message(other).contains("differs from SHA256:"), message(other));
    }
  }

  @Test
  void aWrongPasswordIsALoginThatIsNotAccepted() throws IOException {
    try (Depot wrong = open(password("loud"), known(host))) {
      String message = message(wrong);
      assertTrue(message.contains("does not accept the login"), message);
      assertTrue(message.contains("user mera"), message);
    }
  }

  @Test
  void afterTheServerDroppedTheConnectionAnotherIsMade() throws IOException {
    given("a.csv", random(5));
    assertEquals(List.of("a.csv"), paths(""));
    server.getActiveSessions().forEach(session -> session.close(true));
    assertEquals(List.of("a.csv"), paths(""));
  }

  @Test
  void readingResumesWhenTheConnectionIsDropped() throws IOException {
    byte[] bytes = random(3_000_000);
    StagedFile file = given("a.bin", bytes);
    try (InputStream in = depot.open(file)) {
      byte[] first = in.readNBytes(100_000);
      server.getActiveSessions().forEach(session -> session.close(true));
      byte[] rest = in.readAllBytes();
      assertArrayEquals(Arrays.copyOf(bytes, 100_000), first);
      assertArrayEquals(Arrays.copyOfRange(bytes, 100_000, bytes.length), rest);
    }
  }

  @Test
  void aFolderThatIsNotThereSaysSo() {
    assertTrue(message(depot).contains("does not exist"), message(depot));
  }
}
