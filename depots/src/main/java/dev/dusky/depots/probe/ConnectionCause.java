package dev.dusky.depots.probe;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import java.net.ConnectException;
import java.net.SocketTimeoutException;
import java.net.UnknownHostException;
import java.nio.channels.UnresolvedAddressException;
import java.security.cert.CertPathBuilderException;
import java.security.cert.CertificateException;
import java.util.List;
import java.util.function.Predicate;
import javax.net.ssl.SSLException;

/**
 * Why no answer came from an endpoint: the first row that fits the exceptions names it.
 *
 * @param when what happened, in words, for the documentation
 * @param fits whether an exception, or one behind it, shows this cause
 * @param why the reason; an empty string means the exception's message
 * @param hint what to do
 */
public record ConnectionCause(String when, Predicate<Throwable> fits, String why, String hint) {

  private static final String SERVICE =
      "Check endpoint: or at: of the depot, and that the service is running";

  private static final String AUTHORITY =
      "Name the certificate of the endpoint's authority (PEM) with ca-file: at the depot";

  /** The causes, the most particular first. */
  public static final List<ConnectionCause> ALL =
      List.of(
          new ConnectionCause(
              "the host name is unknown",
              e -> e instanceof UnknownHostException || e instanceof UnresolvedAddressException,
              "the host name cannot be resolved",
              "Check at: and endpoint: of the depot. If the store has no host name for each bucket,"
                  + " set path-style: true"),
          new ConnectionCause(
              "no connection in time",
              e ->
                  e instanceof ConnectException && said(e, "timed out")
                      || e instanceof SocketTimeoutException && said(e, "connect"),
              "no connection within {connect}",
              "Check host and port of endpoint:, and the firewalls between"),
          new ConnectionCause(
              "the connection is refused",
              e -> e instanceof ConnectException,
              "the connection is refused",
              SERVICE),
          new ConnectionCause(
              "no answer in time",
              e -> e instanceof SocketTimeoutException,
              "the endpoint did not answer within {answer}",
              SERVICE),
          new ConnectionCause(
              "TLS to a port without it",
              e ->
                  e instanceof SSLException
                      && (said(e, "Unsupported or unrecognized SSL message")
                          || said(e, "plaintext connection")),
              "the port does not speak TLS",
              "Write the endpoint with http://, or give the port that speaks TLS"),
          new ConnectionCause(
              "an answer that is not HTTP",
              e ->
                  said(e, "Unexpected end of file from server")
                      || said(e, "Invalid Http response")
                      || said(e, "Invalid HTTP"),
              "the port does not answer in HTTP",
              "If the port speaks TLS, write the endpoint with https://; otherwise check the port"),
          new ConnectionCause(
              "a certificate of an unknown authority",
              e -> e instanceof CertPathBuilderException || said(e, "PKIX path building failed"),
              "the endpoint's certificate is not signed by an authority that Java trusts",
              AUTHORITY),
          new ConnectionCause(
              "a certificate that has expired",
              e -> said(e, "validity check failed") || said(e, "NotAfter"),
              "the endpoint's certificate is not valid today",
              "Renew the certificate, or set this machine's clock"),
          new ConnectionCause(
              "a certificate for another host",
              e ->
                  e instanceof CertificateException
                      && (said(e, "No name matching") || said(e, "subject alternative")),
              "the endpoint's certificate is for another host",
              "Write the endpoint with the host name in the certificate; for a bucket in the host"
                  + " name set path-style: true"),
          new ConnectionCause(
              "any other failure of TLS",
              e -> e instanceof SSLException,
              "",
              "Check that endpoint: and its port speak TLS, and which certificate they have"));

  private static boolean said(Throwable e, String words) {
    return e.getMessage() != null && e.getMessage().contains(words);
  }

  /** The cause of an exception, or of the exceptions behind it. */
  static ConnectionCause of(Throwable e) {
    for (ConnectionCause cause : ALL) {
      for (Throwable each = e; each != null; each = each.getCause()) {
        if (cause.fits.test(each)) {
          return cause;
        }
      }
    }
    return new ConnectionCause("", any -> true, "", SERVICE);
  }

  /** The failure of a depot that gave no answer. */
  public static Failure failure(DepotAddress address, Throwable e) {
    ConnectionCause cause = of(e);
    Throwable root = e;
    while (root.getCause() != null) {
      root = root.getCause();
    }
    String words = root.getMessage() == null ? root.getClass().getSimpleName() : root.getMessage();
    return Failure.depot(address.title() + " cannot be reached at " + address)
        .because(
            (cause.why.isEmpty() ? words : cause.why)
                .replace("{connect}", address.network().connect().toSeconds() + " s")
                .replace("{answer}", address.network().answer().toSeconds() + " s"))
        .hint(cause.hint)
        .from(e);
  }
}
