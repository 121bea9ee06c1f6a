using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>What can be done with two numbers, from the gentlest on.</summary>
public enum Operation { Plus, Minus, Times, By }

public static class Operations
{
    public static IReadOnlyList<Operation> All { get; } = Enum.GetValues<Operation>();

    public static string Sign(this Operation operation) => operation switch { Operation.Plus => "+", Operation.Minus => "−", Operation.Times => "×", _ => "÷" };

    /// <summary>What two whole numbers come to; null where that is no whole number, or below nothing.</summary>
    public static int? Of(this Operation operation, int a, int b) => operation switch
    {
        Operation.Plus => a + b,
        Operation.Minus => a >= b ? a - b : null,
        Operation.Times => a * b,
        _ => b > 0 && a % b == 0 ? a / b : null,
    };
}

/// <summary>Operations that are allowed, in the order of their table.</summary>
public sealed record OperationsValue : KnobValue
{
    public OperationsValue(params IEnumerable<Operation> operations) => Operations = [.. operations.Distinct().Order()];

    public ImmutableList<Operation> Operations { get; }

    public override string ToLink() => string.Join('.', Operations.Select(o => OperationsKind.Id(o)));

    public override JsonNode ToJson() => new JsonArray([.. Operations.Select(o => (JsonNode)(o == Operation.Minus ? "-" : o.Sign()))]);

    public override string Says() => Words.List(Operations.Select(o => o.Sign()));

    public bool Equals(OperationsValue? other) => other is not null && Operations.SequenceEqual(other.Operations);

    public override int GetHashCode() => Operations.Aggregate(Operations.Count, HashCode.Combine);
}

/// <summary>One or several operations.</summary>
public sealed record OperationsKind : KnobKind
{
    internal static string Id(Operation operation) => operation.ToString().ToLowerInvariant();

    public override string Says => "a list of \"+\", \"-\", \"×\", \"÷\"";

    public override JsonObject Schema => Schemas.List(Schemas.OneOf(["+", "-", "×", "÷", "−", "*", "/"]), 1, 4);

    public override Field Field => new TickField([.. Operations.All.Select(o => (Id(o), o.Sign()))], (value, id) => ((OperationsValue)value).Operations.Exists(o => Id(o) == id));

    public override KnobValue Sample(ref Rng rng)
    {
        // Most people only add.
        var some = new List<Operation>();
        if (rng.Below(2) == 0) some.Add(Operation.Plus);
        else
            for (int n = 1 + rng.Below(3); n > 0; n--) some.Add((Operation)rng.Below(4));
        return new OperationsValue(some);
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) => json.ValueKind switch
    {
        JsonValueKind.Array => Check([.. json.EnumerateArray().Select(o => o.ValueKind == JsonValueKind.String ? o.GetString()! : o.GetRawText())], path, problems),
        JsonValueKind.String => Check([json.GetString()!], path, problems),
        _ => Check([], path, problems),
    };

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => Check(text.Split(['.', ',', ' '], StringSplitOptions.RemoveEmptyEntries), path, problems);

    private static KnobValue? Check(IReadOnlyList<string> signs, string path, List<Problem> problems)
    {
        var read = signs.Select(Read).ToList();
        return read.Count > 0 && !read.Contains(null) ? new OperationsValue(read.Select(o => o!.Value))
            : Refuse(problems, path, "Here stands a list of +, −, × and ÷; at least one.", new JsonArray("+", "-"));
    }

    private static Operation? Read(string sign) => sign switch
    {
        "+" => Operation.Plus, "-" or "−" => Operation.Minus, "×" or "*" or "x" => Operation.Times, "÷" or "/" or ":" => Operation.By,
        _ => Operations.All.Where(o => Id(o) == sign).Select(o => (Operation?)o).FirstOrDefault(),
    };

    /// <summary>The last one less, or the next one more.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var some = ((OperationsValue)value).Operations;
        if (some.Count > 1) yield return new OperationsValue(some.Take(some.Count - 1));
        if (Operations.All.Except(some).Select(o => (Operation?)o).FirstOrDefault() is { } next) yield return new OperationsValue(some.Append(next));
    }
}
