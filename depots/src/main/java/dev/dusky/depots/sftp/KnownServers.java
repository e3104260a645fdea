package dev.dusky.depots.sftp;

import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.nio.file.Path;
import java.security.PublicKey;
import java.util.Optional;
import org.apache.sshd.client.config.hosts.KnownHostEntry;
import org.apache.sshd.client.keyverifier.KnownHostsServerKeyVerifier;
import org.apache.sshd.client.keyverifier.RejectAllServerKeyVerifier;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.config.keys.PublicKeyEntry;

/**
 * Trusts the servers whose keys are in a file of OpenSSH's form, and no others; keeps the reason of
 * a refusal.
 */
final class KnownServers extends KnownHostsServerKeyVerifier {

  private static final int PORT = 22;

  private final Path file;
  private volatile String fingerprint = "";
  private volatile String refusal;
  private volatile String advice = "";

  KnownServers(Path file) {
    super(RejectAllServerKeyVerifier.INSTANCE, file);
    this.file = file;
  }

  @Override
  public boolean verifyServerKey(ClientSession session, SocketAddress remote, PublicKey key) {
    fingerprint = KeyUtils.getFingerPrint(key);
    InetSocketAddress server = (InetSocketAddress) session.getConnectAddress();
    String host = server.getHostString();
    refusal = "its key %s is revoked, or cannot be compared with %s".formatted(fingerprint, file);
    advice =
        "Ask the server's owner for the fingerprint. If it is this one, put this line into %s: %s %s"
            .formatted(
                file,
                server.getPort() == PORT ? host : "[" + host + "]:" + server.getPort(),
                PublicKeyEntry.toString(key));
    boolean trusted = super.verifyServerKey(session, remote, key);
    if (trusted) {
      refusal = null;
    }
    return trusted;
  }

  @Override
  protected boolean acceptUnknownHostKey(
      ClientSession session, SocketAddress remote, PublicKey key) {
    refusal = "its key %s is not in %s".formatted(fingerprint, file);
    return false;
  }

  @Override
  public boolean acceptModifiedServerKey(
      ClientSession session,
      SocketAddress remote,
      KnownHostEntry entry,
      PublicKey expected,
      PublicKey actual) {
    refusal =
        "its key %s differs from %s in %s"
            .formatted(fingerprint, KeyUtils.getFingerPrint(expected), file);
    return false;
  }

  /** The fingerprint of the key that the server proved to have. */
  String fingerprint() {
    return fingerprint;
  }

  /** Why the last server was not trusted, if it was not. */
  Optional<String> refusal() {
    return Optional.ofNullable(refusal);
  }

  /** What to do about it. */
  String advice() {
    return advice;
  }
}
