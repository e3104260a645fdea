/** Opens the depots: directories, object stores, web folders and SFTP servers. */
package dev.dusky.depots;
