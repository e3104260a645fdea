package dev.dusky.depots.network;

import dev.dusky.core.failure.Failure;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.security.cert.CertificateFactory;
import java.security.cert.X509Certificate;
import java.util.Collection;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManager;
import javax.net.ssl.TrustManagerFactory;
import javax.net.ssl.X509TrustManager;

/** The certificate authorities of a file (PEM) together with those that Java trusts. */
public final class TrustedAuthorities {

  private final String depot;
  private final Path file;

  /**
   * The authorities of a file.
   *
   * @param depot the depot that names it
   */
  public TrustedAuthorities(String depot, Path file) {
    this.depot = depot;
    this.file = file;
  }

  /** The managers that decide which servers are trusted. */
  public TrustManager[] managers() {
    try {
      KeyStore all = KeyStore.getInstance(KeyStore.getDefaultType());
      all.load(null, null);
      int number = 0;
      for (Certificate authority : certificates()) {
        all.setCertificateEntry("declared-" + number++, authority);
      }
      for (TrustManager usual : trusting(null)) {
        if (usual instanceof X509TrustManager x509) {
          for (X509Certificate authority : x509.getAcceptedIssuers()) {
            all.setCertificateEntry("java-" + number++, authority);
          }
        }
      }
      return trusting(all);
    } catch (GeneralSecurityException | IOException e) {
      throw unreadable(String.valueOf(e.getMessage()), e);
    }
  }

  /** A context of TLS that trusts them. */
  public SSLContext context() {
    try {
      SSLContext context = SSLContext.getInstance("TLS");
      context.init(null, managers(), null);
      return context;
    } catch (GeneralSecurityException e) {
      throw unreadable(String.valueOf(e.getMessage()), e);
    }
  }

  private Collection<? extends Certificate> certificates()
      throws IOException, GeneralSecurityException {
    Collection<? extends Certificate> found;
    try (InputStream in = Files.newInputStream(file)) {
      found = CertificateFactory.getInstance("X.509").generateCertificates(in);
    }
    if (found.isEmpty()) {
      throw unreadable("it has no certificate", null);
    }
    return found;
  }

  private static TrustManager[] trusting(KeyStore authorities) throws GeneralSecurityException {
    TrustManagerFactory factory =
        TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
    factory.init(authorities);
    return factory.getTrustManagers();
  }

  private Failure unreadable(String why, Exception cause) {
    Failure failure =
        Failure.configuration("ca-file of depot " + depot + " cannot be used: " + file)
            .because(why)
            .hint("Name a file of certificates in PEM form");
    return cause == null ? failure : failure.from(cause);
  }
}
