using System.Net;
using Microsoft.AspNetCore.HostFiltering;

namespace YoungFolio.Server.Security;

/// <summary>By which names the server answers: its own and those that it was started for. A page elsewhere could have a name of its own lead here.</summary>
internal static class AllowedHosts
{
    /// <summary>Checks the address to listen on.</summary>
    /// <exception cref="ArgumentException">It isn't one.</exception>
    public static string CheckHost(string host) =>
        host == "localhost" || IPAddress.TryParse(host.Trim('[', ']'), out _)
            ? host
            : throw new ArgumentException($"“{host}” isn't an address to listen on. Give one of this computer's, such as 127.0.0.1 or 0.0.0.0, and its name with --name.");

    /// <summary>Adds the check of every request.</summary>
    public static void Add(IServiceCollection services, ServerOptions options) => services.Configure<HostFilteringOptions>(o =>
    {
        o.AllowedHosts = [.. Names(options)];
        o.AllowEmptyHosts = false;
        o.IncludeFailureMessage = false;
    });

    private static IEnumerable<string> Names(ServerOptions options)
    {
        IEnumerable<string> own = ["localhost", "127.0.0.1", "[::1]", .. options.Names];
        if (!IPAddress.TryParse(options.Host.Trim('[', ']'), out IPAddress? address))
        {
            return own;
        }

        // Listening everywhere, it is known by the computer's name and addresses.
        IEnumerable<IPAddress> addresses = address.Equals(IPAddress.Any) || address.Equals(IPAddress.IPv6Any)
            ? System.Net.NetworkInformation.NetworkInterface.GetAllNetworkInterfaces().SelectMany(n => n.GetIPProperties().UnicastAddresses).Select(u => u.Address)
            : [address];
        return own.Append(Environment.MachineName).Concat(addresses.Select(a => a.AddressFamily == System.Net.Sockets.AddressFamily.InterNetworkV6 ? $"[{a}]" : a.ToString())).Distinct();
    }
}
