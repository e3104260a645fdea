package dev.dusky.standin;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.util.Base64;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;

/** A certificate for 127.0.0.1 that nobody knows, made with Java's own tool. */
public final class LoopbackCertificate {

  private static final char[] PASSWORD = "changeit".toCharArray();

  private final Path folder;
  private final KeyStore store;

  /**
   * Makes one.
   *
   * @param folder where its files are kept
   */
  public LoopbackCertificate(Path folder) throws IOException, GeneralSecurityException {
    this.folder = folder;
    Path file = folder.resolve("server.p12");
    Process tool =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
                "-genkeypair",
                "-alias",
                "server",
                "-keyalg",
                "EC",
                "-dname",
                "CN=127.0.0.1",
                "-ext",
                "SAN=IP:127.0.0.1",
                "-validity",
                "2",
                "-storetype",
                "PKCS12",
                "-keystore",
                file.toString(),
                "-storepass",
                new String(PASSWORD))
            .redirectErrorStream(true)
            .redirectOutput(folder.resolve("keytool.out").toFile())
            .start();
    try {
      if (tool.waitFor() != 0) {
        throw new IOException(Files.readString(folder.resolve("keytool.out")));
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("it was stopped", e);
    }
    store = KeyStore.getInstance("PKCS12");
    try (InputStream in = Files.newInputStream(file)) {
      store.load(in, PASSWORD);
    }
  }

  /** The context of a server that has the certificate. */
  public SSLContext server() throws IOException, GeneralSecurityException {
    KeyManagerFactory keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
    keys.init(store, PASSWORD);
    SSLContext context = SSLContext.getInstance("TLS");
    context.init(keys.getKeyManagers(), null, null);
    return context;
  }

  /** The certificate as a file of authorities. */
  public Path pem() throws IOException, GeneralSecurityException {
    Certificate certificate = store.getCertificate("server");
    return Files.writeString(
        folder.resolve("authority.pem"),
        "-----BEGIN CERTIFICATE-----\n"
            + Base64.getMimeEncoder().encodeToString(certificate.getEncoded())
            + "\n-----END CERTIFICATE-----\n");
  }
}
