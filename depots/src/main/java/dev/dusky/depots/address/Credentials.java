package dev.dusky.depots.address;

import dev.dusky.core.secret.Secret;
import java.nio.file.Path;
import java.util.Optional;

/** How the requests to a depot are authorised. */
public sealed interface Credentials {

  /** The source in words, as messages name it; without any secret. */
  String words();

  /**
   * A key pair of the S3 protocol.
   *
   * @param sessionToken the token that temporary keys have besides
   */
  record Keys(Secret accessKey, Secret secretKey, Optional<Secret> sessionToken)
      implements Credentials {
    @Override
    public String words() {
      return sessionToken.isPresent()
          ? "the temporary keys of the depot"
          : "access-key and secret-key of the depot";
    }
  }

  /** A named profile in the vendor's files of credentials and settings. */
  record Profile(String name) implements Credentials {
    @Override
    public String words() {
      return "profile " + name;
    }
  }

  /** The vendor's environment variables. */
  record Environment() implements Credentials {
    @Override
    public String words() {
      return "the environment variables";
    }
  }

  /** The identity that the machine or container has in its cloud. */
  record Instance() implements Credentials {
    @Override
    public String words() {
      return "the identity of this machine";
    }
  }

  /** A token in a file that a cluster writes, exchanged for temporary keys. */
  record WebIdentity() implements Credentials {
    @Override
    public String words() {
      return "the web identity of this process";
    }
  }

  /**
   * Temporary keys of a role, requested with the credentials of the usual chain.
   *
   * @param role the role's name in the store's form
   * @param externalId the identifier that the role's owner may demand
   * @param endpoint the URL of the token service, if it is not the vendor's
   */
  record AssumedRole(String role, Optional<String> externalId, Optional<String> endpoint)
      implements Credentials {
    @Override
    public String words() {
      return "role " + role;
    }
  }

  /** None: the store is public. */
  record Anonymous() implements Credentials {
    @Override
    public String words() {
      return "no credentials";
    }
  }

  /** The first source of the vendor's usual chain that has credentials. */
  record Usual() implements Credentials {
    @Override
    public String words() {
      return "the default chain";
    }
  }

  /** The key of an Azure storage account. */
  record AccountKey(Secret key) implements Credentials {
    @Override
    public String words() {
      return "account-key of the depot";
    }
  }

  /** A shared access signature of Azure. */
  record SharedAccess(Secret token) implements Credentials {
    @Override
    public String words() {
      return "shared-access of the depot";
    }
  }

  /** A connection string of Azure, which names endpoint, account and key or signature. */
  record Connection(Secret text) implements Credentials {
    @Override
    public String words() {
      return "connection-string of the depot";
    }
  }

  /**
   * The login of a user.
   *
   * @param password the password, if one is used
   * @param keyFile the private key of an SSH login, if one is used
   * @param passphrase what the private key is encrypted with
   */
  record Login(
      String user, Optional<Secret> password, Optional<Path> keyFile, Optional<Secret> passphrase)
      implements Credentials {
    @Override
    public String words() {
      return "user " + user;
    }
  }

  /** A bearer token of HTTP (RFC 6750). */
  record Bearer(Secret token) implements Credentials {
    @Override
    public String words() {
      return "token of the depot";
    }
  }
}
