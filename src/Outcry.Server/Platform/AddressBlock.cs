using System.Net;
using System.Net.Sockets;

namespace Outcry.Server.Platform;

/// <summary>The network block by which one sender is told from another: an IPv4 address, or the /64 that one IPv6 connection is given.</summary>
/// <remarks>Whoever has one IPv6 connection has 2^64 addresses (RFC 6177), so that a limit for each address limits nobody.</remarks>
internal static class AddressBlock
{
    private const int PrefixBytes = 8;

    public static string Of(HttpContext http) => Of(http.Connection.RemoteIpAddress);

    public static string Of(IPAddress? address)
    {
        if (address is null)
            return "unknown";
        if (address.IsIPv4MappedToIPv6)
            address = address.MapToIPv4();
        if (address.AddressFamily != AddressFamily.InterNetworkV6)
            return address.ToString();
        Span<byte> bytes = stackalloc byte[16];
        address.TryWriteBytes(bytes, out _);
        bytes[PrefixBytes..].Clear();
        return $"{new IPAddress(bytes)}/64";
    }
}
