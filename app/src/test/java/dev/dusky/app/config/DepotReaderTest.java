package dev.dusky.app.config;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.DepotAddress;
import dev.dusky.depots.address.Network;
import dev.dusky.depots.address.Storing;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Declarations of depots: places, credentials, connections and storing. */
class DepotReaderTest {

  @TempDir Path folder;

  private DepotAddress read(String depot) throws IOException {
    return Configuration.read(
            Files.writeString(
                folder.resolve("dusky.yaml"),
                "warehouse: jdbc:h2:file:./w\ndepots:\n  yard:\n    " + depot + "\n"))
        .depot("yard");
  }

  private String refused(String depot) {
    Failure failure = assertThrows(Failure.class, () -> read(depot));
    assertEquals(Failure.Kind.CONFIGURATION, failure.kind());
    return failure.getMessage();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "s3://b | | the default chain",
        "gs://b/p | | the default chain",
        "azure://a/c | | the default chain",
        "https://h/x | | no credentials",
        "sftp://h/x | | the default chain",
        "s3://b | default | the default chain",
        "s3://b | environment | the environment variables",
        "s3://b | instance | the identity of this machine",
        "azure://a/c | web-identity | the web identity of this process",
        "s3://b | anonymous | no credentials",
        "s3://b | { profile: dairy } | profile dairy",
        "s3://b | { access-key: env:A, secret-key: env:B } | access-key and secret-key of the depot",
        "gs://b | { access-key: env:A, secret-key: env:B, session-token: env:C } | the temporary keys of the depot",
        "s3://b | { assume-role: { role: 'arn:x', external-id: y } } | role arn:x",
        "azure://a/c | { account-key: env:K } | account-key of the depot",
        "azure://a/c | { shared-access: file:sas } | shared-access of the depot",
        "azure://a/c | { connection-string: env:C } | connection-string of the depot",
        "sftp://h/x | { user: mera, key-file: id } | user mera",
        "https://h/x | { user: mera, password: env:P } | user mera",
        "https://h/x | { token: env:T } | token of the depot",
      })
  void eachKindOfCredentialsIsRead(String at, String credentials, String words) throws IOException {
    String declared = credentials == null ? "" : ", credentials: " + credentials.replace('\'', '"');
    assertEquals(words, read("{ at: \"" + at + "\"" + declared + " }").credentials().words());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "access-key: env:A | line 5: access-key needs secret-key beside it",
        "secret-key: env:A | line 5: secret-key needs access-key beside it",
        "credentials: { access-key: env:A } | line 5: access-key needs secret-key beside it",
        "credentials: { session-token: env:A } | session-token belongs to access-key",
        "credentials: { access-key: AKEY, secret-key: env:B } | secrets do not belong in the configuration",
        "credentials: instanec | credentials cannot be 'instanec'",
        "credentials: { account-key: env:A } | account-key is not for s3:, but for azure",
        "credentials: { profile: a, assume-role: { role: b } } | give one of assume-role and profile",
        "credentials: {} | credentials need one of",
        "credentials: { assume-role: {} } | needs the key role",
        "part-size: 1MB | write 6MB to 4000MB",
        "encryption: mine | encryption must be store",
        "proxy: gate.example | is not a proxy",
        "proxy: { at: 'http://gate.example:3128', user: mera } | needs both user and password",
        "connect-timeout: 3 days | write a time from 1 s to 30 min",
        "profil: x | has no key 'profil'",
      })
  void eachMistakeIsReportedWithItsLine(String line, String expected) {
    String message = refused("at: \"s3://b\"\n    " + line);
    assertTrue(message.contains(expected), message);
    assertTrue(message.contains("line 5"), message);
  }

  @ParameterizedTest
  @CsvSource({"s3:/b", "azure://account", "ftp://h/x", "https://h/x?sig=y", "b", "sftp:/x"})
  void placesOfNoKnownFormAreRefused(String at) {
    assertTrue(refused("{ at: \"" + at + "\" }").contains("at must be file:DIRECTORY"), at);
  }

  @Test
  void connectionsAndStoringAreRead() throws IOException {
    DepotAddress yard =
        read(
            """
            at: "s3://b"
                ca-file: authority.pem
                proxy: "http://gate.example:3128"
                connect-timeout: 5 s
                answer-timeout: 2 min
                part-size: 64MB
                encryption: { key: alias/dairy }
                storage-class: COOL
                tags: { team: dairy }
                requester-pays: true""");
    Network network = yard.network();
    assertEquals(Optional.of(folder.resolve("authority.pem")), network.caFile());
    assertEquals(3128, network.proxy().orElseThrow().at().getPort());
    assertEquals(Duration.ofSeconds(5), network.connect());
    assertEquals(Duration.ofMinutes(2), network.answer());
    assertEquals(
        new Storing(
            Optional.of(64_000_000L),
            Optional.of(new Storing.Encryption(Optional.of("alias/dairy"))),
            Optional.of("COOL"),
            Map.of("team", "dairy"),
            true),
        yard.storing());
  }

  @Test
  void filesOfADepotThatIsOnlyReadAreNeitherMovedNorIsAnythingWrittenThere() {
    String feed =
        """
        { at: "https://h/x" }
        feeds:
          f:
            depot: yard
            files: "*.csv"
            layout: csv
            into: a.b
            columns: { x: text }
            %s
        """;
    assertTrue(refused(feed.formatted("afterwards: remove")).contains("depot yard is only read"));
    assertTrue(
        refused(feed.formatted("rejects-to: \"yard:bad/\"")).contains("depot yard is only read"));
  }
}
