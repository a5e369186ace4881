using System.Net;
using System.Net.Sockets;
using System.Text;

namespace Outcry.Standins.Outside;

/// <summary>
/// Writes a places table in the open MMDB format (version 2.0 of its specification): a binary tree over the bits of
/// addresses, then the places as maps, then what the file says of itself.
/// </summary>
internal static class PlacesTable
{
    private const int AddressBits = 128;
    private static readonly byte[] MetadataMarker = [0xAB, 0xCD, 0xEF, .. "MaxMind.com"u8];

    /// <summary>The ranges that documents may use for examples (RFC 5737, RFC 3849), and this machine itself.</summary>
    public static IReadOnlyList<(string Network, string City, string Region, string Country)> Documentation { get; } =
    [
        ("127.0.0.0/8", "York", "Yorkshire", "England"),
        ("::1/128", "York", "Yorkshire", "England"),
        ("192.0.2.0/26", "Leeds", "Yorkshire", "England"),
        ("192.0.2.64/26", "Bristol", "South West", "England"),
        ("192.0.2.128/25", "Cork", "Munster", "Ireland"),
        ("198.51.100.0/25", "Ghent", "East Flanders", "Belgium"),
        ("198.51.100.128/25", "Utrecht", "Utrecht", "Netherlands"),
        ("203.0.113.0/25", "Edinburgh", "Lothian", "Scotland"),
        ("203.0.113.128/25", "", "", "France"),
        ("2001:db8::/33", "Aarhus", "Midtjylland", "Denmark"),
        ("2001:db8:8000::/33", "Cardiff", "Glamorgan", "Wales"),
    ];

    /// <summary>The file's bytes.</summary>
    public static byte[] Write(IEnumerable<(string Network, string City, string Region, string Country)> places)
    {
        var nodes = new List<int?[]> { new int?[2] };
        var data = new MemoryStream();
        var leaves = new List<(int Node, int Side, int Offset)>();
        foreach (var (network, city, region, country) in places)
        {
            var offset = (int)data.Length;
            WritePlace(data, city, region, country);
            var (bits, length) = Bits(IPNetwork.Parse(network));
            var at = 0;
            for (var depth = 0; depth < length - 1; depth++)
            {
                if (nodes[at][bits[depth]] is null)
                {
                    nodes.Add(new int?[2]);
                    nodes[at][bits[depth]] = nodes.Count - 1;
                }
                at = nodes[at][bits[depth]]!.Value;
            }
            leaves.Add((at, bits[length - 1], offset));
        }
        return Assemble(nodes, leaves, data.ToArray());
    }

    // A record is a node, "nothing" (the node count), or a place: node count, 16 bytes of separator, offset.
    private static byte[] Assemble(List<int?[]> nodes, List<(int Node, int Side, int Offset)> leaves, byte[] data)
    {
        var found = leaves.ToDictionary(l => (l.Node, l.Side), l => nodes.Count + 16 + l.Offset);
        using var file = new MemoryStream();
        for (var node = 0; node < nodes.Count; node++)
        for (var side = 0; side < 2; side++)
        {
            var record = found.TryGetValue((node, side), out var place) ? place : nodes[node][side] ?? nodes.Count;
            file.Write([(byte)(record >> 16 & 0xFF), (byte)(record >> 8 & 0xFF), (byte)(record & 0xFF)]);
        }
        file.Write(new byte[16]);
        file.Write(data);
        file.Write(MetadataMarker);
        WriteMetadata(file, nodes.Count);
        return file.ToArray();
    }

    // IPv4 stands in the first 2^32 addresses of the IPv6 tree.
    private static (int[] Bits, int Length) Bits(IPNetwork network)
    {
        var isV4 = network.BaseAddress.AddressFamily == AddressFamily.InterNetwork;
        var bytes = new byte[16];
        network.BaseAddress.GetAddressBytes().CopyTo(bytes, isV4 ? 12 : 0);
        var bits = Enumerable.Range(0, AddressBits).Select(i => bytes[i / 8] >> (7 - i % 8) & 1).ToArray();
        return (bits, network.PrefixLength + (isV4 ? 96 : 0));
    }

    private static void WritePlace(Stream to, string city, string region, string country)
    {
        var parts = new List<(string Key, Action Write)>();
        if (city.Length > 0)
            parts.Add(("city", () => Named(to, city)));
        if (region.Length > 0)
            parts.Add(
                (
                    "subdivisions",
                    () =>
                    {
                        Head(to, 11, 1);
                        Named(to, region);
                    }
                )
            );
        parts.Add(("country", () => Named(to, country)));
        Map(to, parts);
    }

    private static void Named(Stream to, string name) =>
        Map(to, [("names", () => Map(to, [("en", () => String(to, name))]))]);

    private static void WriteMetadata(Stream to, int nodes) =>
        Map(
            to,
            [
                ("node_count", () => Number(to, 6, (ulong)nodes)),
                ("record_size", () => Number(to, 5, 24)),
                ("ip_version", () => Number(to, 5, 6)),
                ("database_type", () => String(to, "Outcry-Documentation-City")),
                (
                    "languages",
                    () =>
                    {
                        Head(to, 11, 1);
                        String(to, "en");
                    }
                ),
                ("binary_format_major_version", () => Number(to, 5, 2)),
                ("binary_format_minor_version", () => Number(to, 5, 0)),
                ("build_epoch", () => Number(to, 9, 1_767_225_600)),
                ("description", () => Map(to, [("en", () => String(to, "Made-up places for documentation ranges"))])),
            ]
        );

    private static void Map(Stream to, IReadOnlyList<(string Key, Action Write)> parts)
    {
        Head(to, 7, parts.Count);
        foreach (var (key, write) in parts)
        {
            String(to, key);
            write();
        }
    }

    private static void String(Stream to, string text)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        Head(to, 2, bytes.Length);
        to.Write(bytes);
    }

    private static void Number(Stream to, int type, ulong number)
    {
        var bytes = new List<byte>();
        for (; number > 0; number >>= 8)
            bytes.Insert(0, (byte)(number & 0xFF));
        Head(to, type, bytes.Count);
        to.Write([.. bytes]);
    }

    // Type in the upper three bits, or behind a zero for types above 7; sizes up to 28 in the lower five, else one byte more.
    private static void Head(Stream to, int type, int size)
    {
        var small = Math.Min(size, 29);
        to.WriteByte((byte)((type <= 7 ? type << 5 : 0) | small));
        if (type > 7)
            to.WriteByte((byte)(type - 7));
        if (size >= 29)
            to.WriteByte((byte)(size - 29));
    }
}
