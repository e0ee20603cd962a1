using System.Collections.Immutable;
using ClearTide.Core.Conversion;
using ClearTide.Core.Editing;
using ClearTide.Core.Language;
using ClearTide.Core.Model;
using Microsoft.AspNetCore.Mvc;

namespace ClearTide.Web.Pages.Studies;

/// <summary>Groups: what splits the model, and what each member has of its own.</summary>
public sealed partial class BuildModel
{
    /// <summary>Whether equations are shown for each member.</summary>
    [BindProperty(Name = "written", SupportsGet = true)]
    public bool WrittenOut { get; set; }

    /// <summary>What equations are shown of: the study, or what is computed.</summary>
    public StudyDocument Shape => WrittenOut ? Run.Lowered.Document : Document;

    /// <summary>Takes the groups apart: each member becomes a part of its own.</summary>
    public IActionResult OnPostUnfold(long version) => Changed(Save(version, new DissolveGroups()));

    public IActionResult OnPostGroup(long version, string? symbol, string? label, string? members) =>
        Changed(Save(version, new AddGroup(symbol ?? "", label ?? "", AddGroup.Read(members ?? ""))), refusedAt: "group-refused");

    /// <summary>Splits parts by a group: those that are named, or all compartments.</summary>
    public IActionResult OnPostSplitBy(long version, string groupId, string? partIds, string? shares)
    {
        ImmutableArray<string> ids = string.IsNullOrEmpty(partIds)
            ?
            [
                .. Document
                    .Compartments.Where(part => !Document.GroupsOf(part.Id).Any(group => group.Id == groupId))
                    .Select(part => part.Id),
            ]
            : [.. Ids(partIds)];
        var typed = (shares ?? "").Split([',', ';', ' '], StringSplitOptions.RemoveEmptyEntries);
        List<double?> numbers = [.. typed.Select(one => TypedNumber.Read(one.TrimEnd('%')))];
        return numbers.Contains(null)
            ? Changed(Refused("Shares are numbers separated by spaces, one for each member, as in “23 54 23”."), groupId)
            : Changed(Save(version, new SplitParts(groupId, ids, [.. numbers.Select(number => number!.Value)])), groupId);
    }

    public IActionResult OnPostUnsplit(long version, string groupId, string? partIds) =>
        Changed(Save(version, new UnsplitParts(groupId, [.. Ids(partIds)])), groupId);

    public IActionResult OnPostRemoveGroup(long version, string groupId) => Changed(Save(version, new RemoveGroup(groupId)), groupId);

    public IActionResult OnPostMember(long version, string groupId, string? member, string? symbol, string? label) =>
        Changed(Save(version, new RenameMember(groupId, member ?? "", symbol ?? "", label ?? "")), groupId);

    public IActionResult OnPostAddMember(long version, string groupId, string? symbol, string? of, string? share) =>
        TypedNumber.Read((share ?? "").Trim().TrimEnd('%')) is { } part
            ? Changed(Save(version, new AddMember(groupId, symbol ?? "", "", of ?? "", part / 100)), groupId)
            : Changed(Refused("Which share does the new member take of the other? Type percent, as in 30."), groupId);

    public IActionResult OnPostMoveMember(long version, string groupId, string? member, int by) =>
        Changed(Save(version, new MoveMember(groupId, member ?? "", by)), groupId);

    public IActionResult OnPostMergeMember(long version, string groupId, string? member, string? into) =>
        Changed(Save(version, new MergeMember(groupId, member ?? "", into ?? "")), groupId);

    public IActionResult OnPostPassage(long version, string groupId, string? passageId, PassageKind kind, string? rate) =>
        Changed(Save(version, new SetPassage(groupId, string.IsNullOrEmpty(passageId) ? null : passageId, kind, rate ?? "")), groupId);

    /// <summary>A table of numbers, pasted for the members of a split value.</summary>
    public IActionResult OnPostTable(long version, string partId, string? table) =>
        Changed(Save(version, new SetTable(partId, table ?? "")), partId);

    /// <summary>Contacts of a flow by a matrix.</summary>
    public IActionResult OnPostContacts(long version, string partId, string? groupId, string? table, bool balanced, string? eigenvalue) =>
        string.IsNullOrWhiteSpace(eigenvalue) || TypedNumber.Read(eigenvalue) is not null
            ? Changed(Save(version, new SetMixing(partId, groupId ?? "", table ?? "", balanced, TypedNumber.Read(eigenvalue))), partId)
            : Changed(Refused("The largest eigenvalue is a number above zero, or empty to keep the matrix as it is."), partId);
}
