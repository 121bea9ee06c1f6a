using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>The value of a knob. Values compare by content; <see cref="ToLink"/> is their text in a link or a form.</summary>
public abstract record KnobValue
{
    public abstract string ToLink();

    public abstract JsonNode ToJson();

    /// <summary>The value in words for screens.</summary>
    public virtual string Says() => ToLink();

    /// <summary>The largest number that it brings into a game; null where it has nothing to do with numbers. Without a limit it is larger than any.</summary>
    public virtual int? Largest => null;

    public sealed override string ToString() => Says();
}

/// <summary>What values a knob can have, and how they are read from a file or a link. Reading never throws.</summary>
public abstract record KnobKind
{
    public abstract KnobValue? FromJson(JsonElement json, string path, List<Problem> problems);

    public abstract KnobValue? FromLink(string text, string path, List<Problem> problems);

    /// <summary>The neighbouring values, the smaller first; what <em>easier</em> and <em>harder</em> try.</summary>
    public virtual IEnumerable<KnobValue> Neighbours(KnobValue value) => [];

    /// <summary>The values in words, for the published table of knobs.</summary>
    public abstract string Says { get; }

    /// <summary>What stands in a file, as JSON Schema.</summary>
    public abstract JsonObject Schema { get; }

    /// <summary>How it is turned on a screen.</summary>
    public abstract Field Field { get; }

    /// <summary>Any value, as a household might choose it; for trying what a frame does with it.</summary>
    public abstract KnobValue Sample(ref Rng rng);

    /// <summary>The text of a link that the parts of its field come to; null where there are none.</summary>
    /// <param name="part">What was typed in a part of the field; null where it was not sent.</param>
    public virtual string? FromFields(Func<string, string?> part) => null;

    private protected static KnobValue? Refuse(List<Problem> problems, string path, string message, JsonNode? nearest)
    {
        problems.Add(new(path, message, nearest));
        return null;
    }
}
