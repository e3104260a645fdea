package dev.dusky.depots.s3;

import dev.dusky.core.failure.Failure;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import software.amazon.awssdk.auth.credentials.AwsCredentials;
import software.amazon.awssdk.auth.credentials.AwsCredentialsProvider;
import software.amazon.awssdk.auth.credentials.ContainerCredentialsProvider;
import software.amazon.awssdk.auth.credentials.EnvironmentVariableCredentialsProvider;
import software.amazon.awssdk.auth.credentials.InstanceProfileCredentialsProvider;
import software.amazon.awssdk.auth.credentials.ProfileCredentialsProvider;
import software.amazon.awssdk.auth.credentials.SystemPropertyCredentialsProvider;
import software.amazon.awssdk.auth.credentials.WebIdentityTokenFileCredentialsProvider;

/**
 * Tries the sources of credentials in the order of the vendor's default chain, remembers which one
 * answered, and of those that did not why.
 */
final class UsualCredentials implements AwsCredentialsProvider {

  private static final int MOST_WORDS = 160;

  private final String title;
  private final String words;
  private final Map<String, AwsCredentialsProvider> sources = new LinkedHashMap<>();
  private String answered;

  /** The vendor's default chain. */
  static UsualCredentials chain(String title) {
    UsualCredentials chain = new UsualCredentials(title, "the default chain");
    chain.sources.put("Java's system properties", SystemPropertyCredentialsProvider.create());
    chain.sources.put("environment variables", EnvironmentVariableCredentialsProvider.create());
    chain.sources.put("web identity", WebIdentityTokenFileCredentialsProvider.create());
    chain.sources.put("profile", ProfileCredentialsProvider.create());
    return chain.machine();
  }

  /** The identity of the container or the machine. */
  static UsualCredentials instance(String title) {
    return new UsualCredentials(title, "the machine").machine();
  }

  private UsualCredentials machine() {
    sources.put("container", ContainerCredentialsProvider.create());
    sources.put("instance", InstanceProfileCredentialsProvider.create());
    return this;
  }

  private UsualCredentials(String title, String words) {
    this.title = title;
    this.words = words;
  }

  @Override
  public synchronized AwsCredentials resolveCredentials() {
    if (answered != null) {
      return sources.get(answered).resolveCredentials();
    }
    List<String> reasons = new ArrayList<>();
    for (Map.Entry<String, AwsCredentialsProvider> source : sources.entrySet()) {
      try {
        AwsCredentials found = source.getValue().resolveCredentials();
        answered = source.getKey();
        return found;
      } catch (RuntimeException e) {
        reasons.add(source.getKey() + ": " + firstSentence(e));
      }
    }
    throw Failure.depot(title + " has no credentials")
        .because("no source of %s has any: %s".formatted(words, String.join("; ", reasons)))
        .hint(
            "Set AWS_ACCESS_KEY_ID and AWS_SECRET_ACCESS_KEY, and AWS_SESSION_TOKEN for temporary"
                + " keys; or declare credentials: at the depot; for a public bucket"
                + " credentials: anonymous");
  }

  private static String firstSentence(RuntimeException e) {
    String line = String.valueOf(e.getMessage()).strip().replaceAll("\\s+", " ");
    String first = line.replaceFirst("(?<=[a-z)'])\\. .*", "").replaceFirst("\\.$", "");
    return first.length() <= MOST_WORDS ? first : first.substring(0, MOST_WORDS) + "…";
  }

  /** The source that answered, once one did. */
  synchronized Optional<String> answered() {
    return Optional.ofNullable(answered);
  }
}
