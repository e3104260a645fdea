package dev.dusky.depots.s3;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.Credentials;
import software.amazon.awssdk.auth.credentials.AwsCredentials;
import software.amazon.awssdk.auth.credentials.AwsCredentialsProvider;
import software.amazon.awssdk.core.exception.SdkException;

/** A declared source of credentials; if it has none, the failure says what it needs. */
final class DeclaredCredentials implements AwsCredentialsProvider {

  private static final int MOST_WORDS = 300;

  private final String title;
  private final Credentials declared;
  private final AwsCredentialsProvider source;

  /**
   * A source.
   *
   * @param title what needs the credentials, as messages begin with it
   */
  DeclaredCredentials(String title, Credentials declared, AwsCredentialsProvider source) {
    this.title = title;
    this.declared = declared;
    this.source = source;
  }

  @Override
  public AwsCredentials resolveCredentials() {
    try {
      return source.resolveCredentials();
    } catch (SdkException | IllegalStateException e) {
      String words = String.valueOf(e.getMessage()).strip().replaceAll("\\s+", " ");
      throw Failure.depot(title + " has no credentials")
          .because(
              declared.words()
                  + " gave none: "
                  + (words.length() <= MOST_WORDS ? words : words.substring(0, MOST_WORDS) + "…"))
          .hint(needs())
          .from(e);
    }
  }

  private String needs() {
    if (declared instanceof Credentials.Profile) {
      return "Check the name of the profile, and the files credentials and config in ~/.aws";
    }
    if (declared instanceof Credentials.Environment) {
      return "Set AWS_ACCESS_KEY_ID and AWS_SECRET_ACCESS_KEY, and AWS_SESSION_TOKEN for temporary"
          + " keys";
    }
    if (declared instanceof Credentials.WebIdentity) {
      return "Set AWS_WEB_IDENTITY_TOKEN_FILE and AWS_ROLE_ARN, as a cluster does for its workloads";
    }
    if (declared instanceof Credentials.AssumedRole) {
      return "Check role: and external-id:, and that the identity of the default chain may assume"
          + " the role (sts:AssumeRole)";
    }
    return "Check credentials: of the depot";
  }
}
