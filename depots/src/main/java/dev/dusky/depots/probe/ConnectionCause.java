package dev.dusky.depots;

import java.net.ConnectException;
import java.net.SocketTimeoutException;
import java.net.UnknownHostException;
import java.security.cert.CertPathBuilderException;
import java.security.cert.CertificateException;
import java.util.List;
import java.util.function.Predicate;
import javax.net.ssl.SSLException;

/**
 * Why no answer came from an endpoint: the first row that fits the exceptions names it.
 *
 * @param fits whether an exception, or one behind it, shows this cause
 * @param why the reason; an empty string means the exception's message
 * @param hint what to do
 */
record ConnectionCause(Predicate<Throwable> fits, String why, String hint) {

  private static final String SERVICE =
      "Check endpoint: of the depot, and that the service is running";

  private static final String AUTHORITY =
      "Import the certificate of the endpoint's authority into a Java trust store with keytool, and"
          + " name it with JAVA_TOOL_OPTIONS=-Djavax.net.ssl.trustStore=FILE";

  private static final List<ConnectionCause> ALL =
      List.of(
          new ConnectionCause(
              e -> e instanceof UnknownHostException,
              "the host name cannot be resolved",
              "Check endpoint: of the depot. If the store has no host name for each bucket, set"
                  + " path-style: true"),
          new ConnectionCause(
              e ->
                  e instanceof ConnectException && said(e, "timed out")
                      || e instanceof SocketTimeoutException && said(e, "connect"),
              "no connection within 10 s",
              "Check host and port of endpoint:, and the firewalls between"),
          new ConnectionCause(
              e -> e instanceof ConnectException, "the connection is refused", SERVICE),
          new ConnectionCause(
              e -> e instanceof SocketTimeoutException,
              "the endpoint did not answer within 60 s",
              SERVICE),
          new ConnectionCause(
              e ->
                  e instanceof SSLException
                      && (said(e, "Unsupported or unrecognized SSL message")
                          || said(e, "plaintext connection")),
              "the port does not speak TLS",
              "Write the endpoint with http://, or give the port that speaks TLS"),
          new ConnectionCause(
              e ->
                  said(e, "Unexpected end of file from server")
                      || said(e, "Invalid Http response")
                      || said(e, "Invalid HTTP"),
              "the port does not answer in HTTP",
              "If the port speaks TLS, write the endpoint with https://; otherwise check the port"),
          new ConnectionCause(
              e -> e instanceof CertPathBuilderException || said(e, "PKIX path building failed"),
              "the endpoint's certificate is not signed by an authority that Java trusts",
              AUTHORITY),
          new ConnectionCause(
              e -> said(e, "validity check failed") || said(e, "NotAfter"),
              "the endpoint's certificate is not valid today",
              "Renew the certificate, or set this machine's clock"),
          new ConnectionCause(
              e ->
                  e instanceof CertificateException
                      && (said(e, "No name matching") || said(e, "subject alternative")),
              "the endpoint's certificate is for another host",
              "Write the endpoint with the host name in the certificate; for a bucket in the host"
                  + " name set path-style: true"),
          new ConnectionCause(
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
    return new ConnectionCause(any -> true, "", SERVICE);
  }
}
