package dev.dusky.app.stage;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.failure.Failure;
import dev.dusky.depots.address.Credentials;
import dev.dusky.depots.address.DepotAddress;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** URLs of files that are staged: the depot that has them, and the path below it. */
class RemotePlaceTest {

  private static final List<DepotAddress> DECLARED =
      List.of(
          DepotAddress.of("partner", "https://files.example/out/"),
          DepotAddress.of("daily", "https://files.example/out/daily"),
          DepotAddress.of("store", "s3://intake/daily"));

  @ParameterizedTest
  @CsvSource({
    "https://files.example/out/a.csv, partner, a.csv",
    "https://files.example/out/daily/a%20b+c.csv, daily, a b+c.csv",
    "https://files.example/out/dailyish/a.csv, partner, dailyish/a.csv",
    "s3://intake/daily/x/*.csv, store, x/*.csv",
    "s3://intake/daily/a%20b.csv, store, a%20b.csv",
  })
  void theDeclaredDepotWithTheLongestRootHasTheUrl(String url, String depot, String path) {
    RemotePlace place = RemotePlace.of(url, DECLARED);
    assertEquals(depot, place.declared().orElseThrow());
    assertEquals(path, place.path());
  }

  @ParameterizedTest
  @CsvSource({
    "https://other.example/x/a.csv, https://other.example/x, a.csv",
    "https://other.example:8443/x/y/, https://other.example:8443/x/y, ''",
    "sftp://mera@other.example/out/*.csv, sftp://mera@other.example/out, *.csv",
    "s3://other/x/y/*.csv, s3://other, x/y/*.csv",
    "azure://account/container/x/a.csv, azure://account/container, x/a.csv",
  })
  void anyOtherUrlIsADepotByItself(String url, String at, String path) {
    RemotePlace place = RemotePlace.of(url, DECLARED);
    assertTrue(place.declared().isEmpty());
    assertEquals(at, place.address().at());
    assertEquals(path, place.path());
  }

  @Test
  void theQueryOfAUrlIsASecret() {
    RemotePlace place = RemotePlace.of("https://files.example/out/a.csv?sig=hush", DECLARED);
    assertTrue(place.address().credentials() instanceof Credentials.SharedAccess);
    assertFalse(place.toString().contains("hush"), place.toString());
    assertFalse(place.shown().contains("hush"));
  }

  @ParameterizedTest
  @ValueSource(strings = {"https://host", "https:///a.csv", "s3://bucket", "sftp://host"})
  void aUrlWithoutAPathNamesNoFile(String url) {
    Failure failure = assertThrows(Failure.class, () -> RemotePlace.of(url, DECLARED));
    assertEquals(Failure.Kind.USAGE, failure.kind());
  }
}
