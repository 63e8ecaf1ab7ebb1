using Narbit.Core.Comparing;
using Narbit.Core.Pairing;

namespace Narbit.Engine.Pairing;

/// <summary>Two records side by side at the pair desk.</summary>
/// <param name="Hub">The hub's; null: none.</param>
/// <param name="Other">The other system's; null: none.</param>
/// <param name="Rows">Their fields, side by side.</param>
/// <param name="Evidence">What speaks for and against the pair.</param>
/// <param name="Candidates">Who else could be meant, the likeliest first.</param>
/// <param name="Kit">A kit's parts; none: it is no kit.</param>
public sealed record DeskSeam(
    SideRecordView? Hub,
    SideRecordView? Other,
    IReadOnlyList<SeamRow> Rows,
    IReadOnlyList<Evidence> Evidence,
    IReadOnlyList<CandidateView> Candidates,
    IReadOnlyList<KitItem> Kit
);
