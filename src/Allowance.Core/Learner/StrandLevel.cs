using Allowance.Core.Asks;
using Allowance.Core.Numbers;

namespace Allowance.Core.Learner;

/// <summary>
/// What is believed about a child's level in a strand: the highest band of the strand's lead skill up to which seven of ten
/// asks would be right, in this band and in all below; or none yet.
/// </summary>
/// <param name="Bands">Upper ends of the lead skill's bands.</param>
/// <param name="Chances">The chance of each level: none yet, then band by band.</param>
public sealed record StrandLevel(Strand Strand, IReadOnlyList<int> Bands, IReadOnlyList<double> Chances)
{
    /// <summary>How often something of this strand was asked of her; where it never was, the level is a guess from the rest.</summary>
    public int Asked { get; init; }

    /// <summary>From this chance of being right on, a band counts as reached.</summary>
    public const double Reached = .70;

    private const int Draws = 192;

    private static readonly double[] Normals = FixedNormals();

    /// <summary>The likeliest level: 0 for none yet, else the number of bands reached.</summary>
    public int Likeliest => Enumerable.Range(0, Chances.Count).MaxBy(i => Chances[i]);

    /// <summary>The lower of the two neighbouring levels between which she most likely stands, and how likely that is, less what no estimate foresees.</summary>
    public (int Lower, double Chance) Between =>
        Enumerable.Range(0, Chances.Count - 1).Select(i => (i, (1 - Constants.Unforeseen) * (Chances[i] + Chances[i + 1]))).MaxBy(p => p.Item2);

    /// <summary>How open the question still is, in nats.</summary>
    public double Entropy => -Chances.Sum(p => p <= 0 ? 0 : p * Math.Log(p));

    /// <summary>What is believed on a day.</summary>
    public static StrandLevel Of(ChildModel model, Strand strand, DateOnly day)
    {
        var skill = Skills.Lead(strand);
        int n = skill.Bands.Count, first = Feeding.BandIndex(skill.Id, skill.Bands[0]);
        // What the asks of a band share is drawn jointly with the other bands; what each ask has of its own is averaged over.
        Span<double> needs = stackalloc double[n], joint = stackalloc double[n * n];
        var bands = new IReadOnlyList<Ask>[n];
        for (int i = 0; i < n; i++)
        {
            bands[i] = BandAsks.Of(first + i);
            needs[i] = model.Needs(bands[i], Reached, day);
        }
        model.Joint(bands, day, joint);
        Factorise(joint, n);
        var chances = new double[n + 1];
        for (int d = 0; d < Draws; d++)
        {
            int level = 0;
            for (; level < n; level++)
            {
                double at = 0;
                for (int j = 0; j <= level; j++) at += joint[level * n + j] * Normals[d * 8 + j];
                if (at < needs[level]) break;
            }
            chances[level] += 1.0 / Draws;
        }
        return new(strand, skill.Bands, chances) { Asked = Enumerable.Range(0, Feeding.Bands.Count).Where(b => Feeding.Bands[b].Skill.Strand == strand).Sum(model.Seen) };
    }

    /// <summary>Cholesky's factor of a covariance, in its lower triangle.</summary>
    private static void Factorise(Span<double> matrix, int n)
    {
        for (int i = 0; i < n; i++)
            for (int j = 0; j <= i; j++)
            {
                double sum = matrix[i * n + j];
                for (int k = 0; k < j; k++) sum -= matrix[i * n + k] * matrix[j * n + k];
                matrix[i * n + j] = i == j ? Math.Sqrt(Math.Max(sum, 1e-9)) : sum / matrix[j * n + j];
            }
    }

    private static double[] FixedNormals()
    {
        var rng = new Rng(20_26);
        var normals = new double[Draws * 8];
        // Each draw with its mirror image, so that the mean is 0 exactly.
        for (int d = 0; d < Draws; d += 2)
            for (int j = 0; j < 8; j++) normals[(d + 1) * 8 + j] = -(normals[d * 8 + j] = rng.Normal());
        return normals;
    }
}
