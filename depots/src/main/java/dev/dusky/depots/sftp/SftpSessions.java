package dev.dusky.depots.sftp;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.probe.ConnectionCause;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.NamedResource;
import org.apache.sshd.common.SshException;
import org.apache.sshd.common.config.keys.FilePasswordProvider;
import org.apache.sshd.common.util.security.SecurityUtils;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpClientFactory;

/** The connection to a server, made when it is first needed and again after it broke. */
final class SftpSessions implements AutoCloseable {

  private final DepotAddress address;
  private final SftpAddress sftp;
  private SshClient ssh;
  private KnownServers known;
  private ClientSession session;
  private SftpClient shared;

  SftpSessions(DepotAddress address, SftpAddress sftp) {
    this.address = address;
    this.sftp = sftp;
  }

  /** Does short work over the channel that all short work shares, once more if it broke. */
  synchronized <T> T with(SftpDepot.Work<T> work) throws IOException {
    if (shared != null && shared.isOpen() && session.isOpen()) {
      try {
        return work.with(shared);
      } catch (SshException e) {
        session.close(true);
      } catch (UncheckedIOException e) {
        if (!(e.getCause() instanceof SshException)) {
          throw e;
        }
        session.close(true);
      }
    }
    shared = open();
    return work.with(shared);
  }

  /** A new channel; the caller closes it. */
  synchronized SftpClient open() throws IOException {
    if (session == null || !session.isOpen()) {
      session = connect();
    }
    return SftpClientFactory.instance().createSftpClient(session);
  }

  /** The server and the key that it proved to have, in words. */
  String words() {
    return "connected to %s port %d as %s; server key %s"
        .formatted(sftp.host(), sftp.port(), sftp.user(), known.fingerprint());
  }

  private ClientSession connect() {
    if (ssh == null) {
      known = new KnownServers(address.network().knownHosts().orElse(usual("known_hosts")));
      ssh = SshClient.setUpDefaultClient();
      ssh.setServerKeyVerifier(known);
      ssh.start();
    }
    ClientSession made = null;
    try {
      made =
          ssh.connect(sftp.user(), sftp.host(), sftp.port())
              .verify(address.network().connect())
              .getSession();
      identify(made);
      made.auth().verify(address.network().answer());
      return made;
    } catch (IOException e) {
      boolean reached = made != null;
      if (reached) {
        made.close(true);
      }
      throw failure(e, reached);
    }
  }

  private static Path usual(String name) {
    return Path.of(System.getProperty("user.home"), ".ssh", name);
  }

  private void identify(ClientSession made) throws IOException {
    if (!(address.credentials() instanceof Credentials.Login login)) {
      return; // the client offers the keys in the user's .ssh directory
    }
    login.password().ifPresent(secret -> made.addPasswordIdentity(secret.reveal()));
    if (login.keyFile().isEmpty()) {
      return;
    }
    Path file = login.keyFile().get();
    FilePasswordProvider passphrase =
        login
            .passphrase()
            .map(secret -> FilePasswordProvider.of(secret.reveal()))
            .orElse(FilePasswordProvider.EMPTY);
    try (InputStream in = Files.newInputStream(file)) {
      Iterable<KeyPair> pairs =
          SecurityUtils.loadKeyPairIdentities(
              made, NamedResource.ofName(file.toString()), in, passphrase);
      if (pairs == null) {
        throw new GeneralSecurityException("it has no private key");
      }
      pairs.forEach(made::addPublicKeyIdentity);
    } catch (GeneralSecurityException | IOException e) {
      throw Failure.configuration(
              "key-file of depot " + address.name() + " cannot be used: " + file)
          .because(String.valueOf(e.getMessage()))
          .hint("Name a private key in OpenSSH's or PEM form; an encrypted one needs passphrase:")
          .from(e);
    }
  }

  private Failure failure(IOException e, boolean reached) {
    if (known.refusal().isPresent()) {
      return Failure.depot("The server of depot " + address.name() + " is not trusted")
          .because(known.refusal().get())
          .hint(known.advice())
          .from(e);
    }
    if (reached && known.fingerprint().isEmpty()) {
      return Failure.depot("Depot %s does not speak SFTP at %s".formatted(address.name(), address))
          .because("port %d does not speak SSH: %s".formatted(sftp.port(), e.getMessage()))
          .hint("Correct host and port in at: of the depot")
          .from(e);
    }
    if (reached && e instanceof SshException) {
      return Failure.depot("Depot " + address.name() + " does not accept the login")
          .because("user %s at %s: %s".formatted(sftp.user(), sftp.host(), e.getMessage()))
          .hint("Check user:, password: or key-file: under credentials: of the depot")
          .from(e);
    }
    return ConnectionCause.failure(address, e);
  }

  @Override
  public synchronized void close() {
    if (ssh != null) {
      ssh.stop();
    }
  }
}
