package dev.dusky.depots.s3;

import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import java.net.URI;
import java.util.Optional;
import software.amazon.awssdk.auth.credentials.AnonymousCredentialsProvider;
import software.amazon.awssdk.auth.credentials.AwsBasicCredentials;
import software.amazon.awssdk.auth.credentials.AwsCredentials;
import software.amazon.awssdk.auth.credentials.AwsCredentialsProvider;
import software.amazon.awssdk.auth.credentials.AwsSessionCredentials;
import software.amazon.awssdk.auth.credentials.EnvironmentVariableCredentialsProvider;
import software.amazon.awssdk.auth.credentials.ProfileCredentialsProvider;
import software.amazon.awssdk.auth.credentials.StaticCredentialsProvider;
import software.amazon.awssdk.auth.credentials.WebIdentityTokenFileCredentialsProvider;
import software.amazon.awssdk.http.SdkHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.sts.StsClient;
import software.amazon.awssdk.services.sts.auth.StsAssumeRoleCredentialsProvider;

/** The credentials of a depot as the client of the protocol takes them. */
final class S3Identity {

  private static final String SESSION = "dusky";

  private final AwsCredentialsProvider provider;
  private final String words;

  private S3Identity(AwsCredentialsProvider provider, String words) {
    this.provider = provider;
    this.words = words;
  }

  /**
   * The identity that an address declares.
   *
   * @param http connects to the token service where temporary keys are requested
   */
  static S3Identity of(DepotAddress address, Region region, SdkHttpClient http) {
    Credentials credentials = address.credentials();
    AwsCredentialsProvider provider;
    if (credentials instanceof Credentials.Keys keys) {
      provider = StaticCredentialsProvider.create(keys(keys));
    } else if (credentials instanceof Credentials.Profile profile) {
      provider = ProfileCredentialsProvider.create(profile.name());
    } else if (credentials instanceof Credentials.Environment) {
      provider = EnvironmentVariableCredentialsProvider.create();
    } else if (credentials instanceof Credentials.Instance) {
      provider = UsualCredentials.instance(address.title());
    } else if (credentials instanceof Credentials.WebIdentity) {
      provider = WebIdentityTokenFileCredentialsProvider.create();
    } else if (credentials instanceof Credentials.AssumedRole role) {
      provider = role(address.title(), role, region, http);
    } else if (credentials instanceof Credentials.Anonymous) {
      provider = AnonymousCredentialsProvider.create();
    } else if (credentials instanceof Credentials.Usual) {
      provider = UsualCredentials.chain(address.title());
    } else {
      throw Failure.configuration("Depot " + address.name() + " cannot use its credentials")
          .because(credentials.words() + " is not for stores of the S3 protocol")
          .hint("Give access-key and secret-key, or one of the sources in docs/stores.md");
    }
    return new S3Identity(
        provider instanceof UsualCredentials
            ? provider
            : new DeclaredCredentials(address.title(), credentials, provider),
        credentials.words());
  }

  private static AwsCredentials keys(Credentials.Keys keys) {
    String access = keys.accessKey().reveal();
    String secret = keys.secretKey().reveal();
    Optional<String> token = keys.sessionToken().map(Secret::reveal);
    return token.isPresent()
        ? AwsSessionCredentials.create(access, secret, token.get())
        : AwsBasicCredentials.create(access, secret);
  }

  private static AwsCredentialsProvider role(
      String title, Credentials.AssumedRole role, Region region, SdkHttpClient http) {
    var client =
        StsClient.builder()
            .httpClient(http)
            .region(region)
            .credentialsProvider(UsualCredentials.chain(title));
    role.endpoint().map(URI::create).ifPresent(client::endpointOverride);
    return StsAssumeRoleCredentialsProvider.builder()
        .stsClient(client.build())
        .refreshRequest(
            request ->
                request
                    .roleArn(role.role())
                    .roleSessionName(SESSION)
                    .externalId(role.externalId().orElse(null)))
        .build();
  }

  AwsCredentialsProvider provider() {
    return provider;
  }

  /** The source that answered, in words. */
  String words() {
    return provider instanceof UsualCredentials usual
        ? usual.answered().map(source -> words + " (" + source + ")").orElse(words)
        : words;
  }
}
