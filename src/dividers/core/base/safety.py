"""The one text of every safety advice that pages, prints and steps show: the usual cautions (common practice, no source)."""

SAFETY = {
    "high": "Ladders and platforms: three points of contact, level footing, never overreach.",
    "knife": "Knife: use a new blade, cut away from your hand, never through the surface.",
    "solvent": "Solvent paint or shellac: ventilate the room, no flames; dry oily rags flat outdoors, or keep them under water in a tin with a lid.",
    "sand": "Old paint may contain lead: test before sanding; use certified people where the law requires it. Wear a dust mask.",
    "floor": "Keep the way out free: work from the back toward the exit.",
    "eyes": "Overhead work: protect your eyes.",
    "cover": "Switch the power off before you remove outlet covers; live parts are for an electrician.",
    "label": "Always follow the label, local codes and licensed practice.",
}
