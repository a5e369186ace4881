using System.Text.RegularExpressions;
using Mono.Cecil;
using Mono.Cecil.Cil;

namespace Outcry.Server.Tests;

/// <summary>Which room of the house reaches into which: no other arrow than docs/architecture.md draws, and each of those.</summary>
public sealed partial class ArrowTests
{
    private static readonly string[] Imports = ["*.ts", "*.tsx"];

    [Theory]
    [InlineData("Core", "Outcry.Core")]
    [InlineData("Store", "Outcry.Store")]
    [InlineData("Server", "Outcry.Server")]
    [InlineData("Stand-ins", "Outcry.Standins")]
    public void Every_arrow_between_rooms_of_the_host_is_drawn(string part, string assembly)
    {
        using var module = ModuleDefinition.ReadModule(Path.Combine(AppContext.BaseDirectory, $"{assembly}.dll"));
        var arrows = new HashSet<(string From, string To)>();
        foreach (var type in module.GetTypes())
            if (RoomOf(type, assembly) is { } room)
                foreach (var other in Reached(type).SelectMany(Parts))
                    if (RoomOf(other, assembly) is { } to && to != room)
                        arrows.Add((room, to));
        AssertDrawn(part, arrows);
    }

    [Theory]
    [InlineData("Desk", "web/desk/src")]
    [InlineData("Embed", "web/embed/src")]
    public void Every_arrow_between_rooms_of_the_web_is_drawn(string part, string folder)
    {
        var root = Path.Combine(TestDesk.Root, folder);
        var arrows = new HashSet<(string From, string To)>();
        foreach (var file in Imports.SelectMany(p => Directory.EnumerateFiles(root, p, SearchOption.AllDirectories)))
        foreach (Match import in Import().Matches(File.ReadAllText(file)))
        {
            var target = Path.GetFullPath(import.Groups[1].Value, Path.GetDirectoryName(file)!);
            if (RoomOf(file, root) is var room && RoomOf(target, root) is var to && room != to)
                arrows.Add((room, to));
        }
        AssertDrawn(part, arrows);
    }

    [Theory]
    [InlineData("Core")]
    [InlineData("Store")]
    [InlineData("Server")]
    [InlineData("Stand-ins")]
    [InlineData("Desk")]
    [InlineData("Embed")]
    public void No_arrows_lead_in_a_circle(string part)
    {
        var left = Drawn(part);
        // Rooms into which nobody reaches any more are taken away with their arrows; what stays is circles.
        while (left.RemoveWhere(a => left.All(b => b.To != a.From)) > 0) { }
        Assert.Empty(left);
    }

    // What lies beside the rooms is the door.
    private static string RoomOf(string file, string root) =>
        Path.GetRelativePath(root, file).Split('/') is [var room, _, ..] ? room : "door";

    private static string? RoomOf(TypeReference type, string assembly)
    {
        while (type.DeclaringType is { } outer)
            type = outer;
        return type.Namespace.StartsWith($"{assembly}.", StringComparison.Ordinal)
            ? type.Namespace[(assembly.Length + 1)..].Split('.')[0]
            : null;
    }

    private static IEnumerable<TypeReference> Reached(TypeDefinition type)
    {
        if (type.BaseType is not null)
            yield return type.BaseType;
        foreach (var face in type.Interfaces)
            yield return face.InterfaceType;
        foreach (var field in type.Fields)
            yield return field.FieldType;
        foreach (var attribute in type.CustomAttributes)
            yield return attribute.AttributeType;
        foreach (var method in type.Methods)
        {
            yield return method.ReturnType;
            foreach (var parameter in method.Parameters)
                yield return parameter.ParameterType;
            if (!method.HasBody)
                continue;
            foreach (var local in method.Body.Variables)
                yield return local.VariableType;
            foreach (var at in method.Body.Instructions)
            foreach (var operand in Operands(at))
                yield return operand;
        }
    }

    private static IEnumerable<TypeReference> Operands(Instruction at)
    {
        switch (at.Operand)
        {
            case TypeReference type:
                yield return type;
                break;
            case MethodReference method:
                yield return method.DeclaringType;
                yield return method.ReturnType;
                if (method is GenericInstanceMethod generic)
                    foreach (var argument in generic.GenericArguments)
                        yield return argument;
                break;
            case FieldReference field:
                yield return field.DeclaringType;
                yield return field.FieldType;
                break;
        }
    }

    // A list of callouts is a list, and callouts.
    private static IEnumerable<TypeReference> Parts(TypeReference type)
    {
        yield return type.GetElementType();
        if (type is GenericInstanceType generic)
            foreach (var part in generic.GenericArguments.SelectMany(Parts))
                yield return part;
        else if (type is TypeSpecification special)
            foreach (var part in Parts(special.ElementType))
                yield return part;
    }

    private static void AssertDrawn(string part, HashSet<(string From, string To)> arrows)
    {
        var drawn = Drawn(part);
        var missing = arrows.Except(drawn).Select(a => $"{a.From} reaches into {a.To}").Order().ToList();
        Assert.True(missing.Count == 0, $"docs/architecture.md, {part}, does not draw: {string.Join("; ", missing)}");
        var stale = drawn.Except(arrows).Select(a => $"{a.From} to {a.To}").Order().ToList();
        Assert.True(
            stale.Count == 0,
            $"docs/architecture.md, {part}, draws what is not there: {string.Join("; ", stale)}"
        );
    }

    private static HashSet<(string From, string To)> Drawn(string part)
    {
        var page = File.ReadAllText(Path.Combine(TestDesk.Root, "docs", "architecture.md"));
        var section = page.Split("\n## ").Single(s => s.StartsWith($"{part}\n", StringComparison.Ordinal));
        return
        [
            .. Room()
                .Matches(section)
                .SelectMany(r =>
                    r.Groups[2]
                        .Value.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
                        .Select(to => (r.Groups[1].Value, to))
                ),
        ];
    }

    [GeneratedRegex(@"(?:from |import\()'(\.[^']+)'")]
    private static partial Regex Import();

    // | Planning | Care, Evidence | what it holds |
    [GeneratedRegex(@"^\| ([A-Za-z]+) \| ([A-Za-z, ]*?) ?\|", RegexOptions.Multiline)]
    private static partial Regex Room();
}
