package dev.dusky.depots.s3;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.depot.Depot;
import dev.dusky.core.failure.Failure;
import dev.dusky.core.secret.Secret;
import dev.dusky.depots.Depots;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.standin.StandIn;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;

/** Each source of credentials signs requests that a store accepts, which knows temporary keys. */
@Isolated("it sets the properties that the sources are configured with")
class S3CredentialsTest {

  @TempDir Path folder;
  private StandIn store;
  private TokenService tokens;
  private final Map<String, String> before = new HashMap<>();

  @BeforeEach
  void start() throws IOException {
    Files.createDirectories(folder.resolve("buckets/intake"));
    store = StandIn.start(folder.resolve("buckets"), "key", "secret", 0);
    store.accept(TokenService.ACCESS, TokenService.SECRET, TokenService.TOKEN);
    tokens = new TokenService();
    set("aws.ec2MetadataServiceEndpoint", tokens.url());
    set("aws.sharedCredentialsFile", folder.resolve("credentials").toString());
    set("aws.configFile", folder.resolve("config").toString());
  }

  @AfterEach
  void stop() {
    before.forEach(
        (name, value) -> {
          if (value == null) {
            System.clearProperty(name);
          } else {
            System.setProperty(name, value);
          }
        });
    tokens.close();
    store.close();
  }

  private void set(String name, String value) {
    String old = System.setProperty(name, value);
    before.putIfAbsent(name, old);
  }

  private Depot open(Credentials credentials) {
    return Depots.open(
        DepotAddress.of("yard", "s3://intake").at(store.endpoint()).with(credentials),
        Path.of("."));
  }

  /** Lists the bucket; gives the source that the probe names. */
  private String source(Credentials credentials) {
    try (Depot depot = open(credentials)) {
      assertFalse(depot.list("").hasNext());
      return depot.probe().stream()
          .filter(step -> step.name().equals("credentials"))
          .findFirst()
          .orElseThrow()
          .attempt()
          .run()
          .remark();
    }
  }

  private String refused(Credentials credentials) {
    try (Depot depot = open(credentials)) {
      return assertThrows(Failure.class, () -> depot.list("")).getMessage();
    }
  }

  private static Credentials.Keys temporary(String token) {
    return new Credentials.Keys(
        new Secret(() -> TokenService.ACCESS),
        new Secret(() -> TokenService.SECRET),
        Optional.ofNullable(token).map(t -> new Secret(() -> t)));
  }

  @Test
  void temporaryKeysComeWithTheirToken() {
    assertEquals("the temporary keys of the depot", source(temporary(TokenService.TOKEN)));
    String message = refused(temporary(null));
    assertTrue(message.contains("need their session-token"), message);
    assertFalse(message.contains(TokenService.SECRET), message);
  }

  @Test
  void aProfileIsTakenFromTheFilesOfTheUser() throws IOException {
    Files.writeString(
        folder.resolve("credentials"),
        """
        [dairy]
        aws_access_key_id = TEMPORARY
        aws_secret_access_key = temporary-secret
        aws_session_token = temporary-token
        """);
    assertEquals("profile dairy", source(new Credentials.Profile("dairy")));
    String message = refused(new Credentials.Profile("cheese"));
    assertTrue(message.contains("profile cheese gave none"), message);
    assertTrue(message.contains("files credentials and config"), message);
  }

  @Test
  void aDeclaredSourceThatHasNoneSaysWhatItNeeds() {
    assertTrue(refused(new Credentials.Environment()).contains("Set AWS_ACCESS_KEY_ID"));
    assertTrue(refused(new Credentials.WebIdentity()).contains("AWS_WEB_IDENTITY_TOKEN_FILE"));
    set("aws.disableEc2Metadata", "true");
    assertTrue(refused(new Credentials.Instance()).contains("no source of the machine has any"));
    Credentials role =
        new Credentials.AssumedRole("arn:x", Optional.empty(), Optional.of(tokens.url()));
    assertTrue(refused(role).contains("Depot yard has no credentials"), refused(role));
  }

  @Test
  void theMachineHasAnIdentity() {
    assertEquals("the identity of this machine (instance)", source(new Credentials.Instance()));
  }

  @Test
  void aRoleIsAssumedWithTheCredentialsOfTheChain() {
    set("aws.accessKeyId", "key");
    set("aws.secretAccessKey", "secret");
    assertEquals(
        "role arn:dairy",
        source(
            new Credentials.AssumedRole(
                "arn:dairy", Optional.of("wrenfold"), Optional.of(tokens.url()))));
    assertEquals("AssumeRole", tokens.asked.get("Action"));
    assertEquals("arn:dairy", tokens.asked.get("RoleArn"));
    assertEquals("wrenfold", tokens.asked.get("ExternalId"));
  }

  @Test
  void aWebIdentityIsExchanged() throws IOException {
    set("aws.webIdentityTokenFile", Files.writeString(folder.resolve("token"), "jwt").toString());
    set("aws.roleArn", "arn:dairy");
    set("aws.endpointUrlSts", tokens.url());
    set("aws.region", "us-east-1");
    assertEquals("the web identity of this process", source(new Credentials.WebIdentity()));
    assertEquals("AssumeRoleWithWebIdentity", tokens.asked.get("Action"));
    assertEquals("jwt", tokens.asked.get("WebIdentityToken"));
  }

  @Test
  void theDefaultChainSaysWhichSourceAnswered() throws IOException {
    assertEquals("the default chain (instance)", source(new Credentials.Usual()));
    set("aws.accessKeyId", "key");
    set("aws.secretAccessKey", "secret");
    assertEquals("the default chain (Java's system properties)", source(new Credentials.Usual()));
  }

  @Test
  void withoutAnyCredentialsEachSourceSaysWhy() {
    set("aws.disableEc2Metadata", "true");
    String message = refused(new Credentials.Usual());
    assertTrue(message.contains("Depot yard has no credentials"), message);
    for (String source : new String[] {"environment variables:", "profile:", "instance:"}) {
      assertTrue(message.contains(source), message);
    }
    assertTrue(message.contains("credentials: anonymous"), message);
  }
}
