package dev.dusky.depots.s3;

import static org.junit.jupiter.api.Assertions.assertEquals;

import dev.dusky.depots.s3.S3Endpoint.Target;
import java.net.URI;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import software.amazon.awssdk.http.urlconnection.ProxyConfiguration;

/** Where connections to an endpoint are made, which is what a probe tries. */
class S3EndpointTest {

  private static final ProxyConfiguration NONE =
      ProxyConfiguration.builder()
          .useSystemPropertyValues(false)
          .useEnvironmentVariablesValues(false)
          .build();

  private static final ProxyConfiguration PROXY =
      ProxyConfiguration.builder()
          .endpoint(URI.create("http://gate.example:3128"))
          .nonProxyHosts(Set.of("near\\..*"))
          .useSystemPropertyValues(false)
          .useEnvironmentVariablesValues(false)
          .build();

  @ParameterizedTest
  @CsvSource({
    "http://far.example, far.example, 80",
    "https://far.example, far.example, 443",
    "https://far.example:9000/store, far.example, 9000",
  })
  void withoutAProxyTheEndpointItselfIsTried(String endpoint, String host, int port) {
    Target target = new S3Endpoint(URI.create(endpoint)).target(NONE);
    assertEquals(new Target(host, port, host + " port " + port), target);
  }

  @Test
  void behindAProxyTheProxyIsTried() {
    Target target = new S3Endpoint(URI.create("https://far.example")).target(PROXY);
    assertEquals(new Target("gate.example", 3128, "proxy gate.example port 3128"), target);
  }

  @Test
  void hostsThatNeedNoProxyAreTriedThemselves() {
    Target target = new S3Endpoint(URI.create("http://near.example:9000")).target(PROXY);
    assertEquals("near.example", target.host());
  }
}
