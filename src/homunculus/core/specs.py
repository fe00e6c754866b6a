"""Every figure that the plan can derive: its stable name, unit and meaning.

``docs/figures.md`` is written from this list, and a test keeps it true.
"""

from __future__ import annotations

from homunculus.core.figures import FigureSpec

# ---- shot (of a shot–build pair)
RATE_WANTED = FigureSpec("frame_rate.wanted", "Wanted frame rate", "rate", "shot",
    "Frame rate that the shot's rule asks for at the scale of its main build.")  # fmt: skip
RATE = FigureSpec("frame_rate.camera", "Frame rate", "rate", "shot",
    "Nearest rate that the camera has; what the shot is taken at.", rank=20)  # fmt: skip
GRAVITY = FigureSpec("gravity.apparent", "Apparent gravity", "acceleration_share", "shot",
    "How heavy things look on screen: 1 is real, over 1 falls too fast, under 1 floats.", digits=2, rank=12)  # fmt: skip
STRETCH = FigureSpec("time.stretch", "Time stretched", "factor", "shot",
    "How much longer things last on screen than on set.", rank=16)  # fmt: skip
ON_SET = FigureSpec("time.on_set", "Take on set", "screen_time", "shot",
    "Seconds that must happen on set for the shot's seconds on screen.", digits=2, rank=16)  # fmt: skip

EXPOSURES = FigureSpec("frames.exposures", "Exposures", "count", "shot",
    "Exposures to animate for a shot taken frame by frame.", rank=13)  # fmt: skip

FRAME_SHARE = FigureSpec("frame.share", "Of the frame's height", "share", "shot",
    "How much of the frame's height the whole build fills in the shot, at its distance.", digits=2, rank=14)  # fmt: skip
FOOT = FigureSpec("frame.foot", "Ground in the frame", "share", "shot",
    "Where the ground beneath the build stands in the frame, from the top, by the plate's height, tilt and distance.", digits=2, rank=18)  # fmt: skip
PLATE_FOCAL = FigureSpec("plate.focal", "Focal length for the plate", "focal_length", "shot",
    "Focal length of our camera that sees the same angle as the plate's.", rank=14)  # fmt: skip
PLATE_HEIGHT = FigureSpec("plate.height", "Lens over the model's ground", "length", "shot",
    "Height of the lens on set that matches the plate's.", rank=14)  # fmt: skip
PLATE_DISTANCE = FigureSpec("plate.distance", "Lens to the model", "length", "shot",
    "Distance on set that matches the plate's.", rank=14)  # fmt: skip
TAKES = FigureSpec("take.count", "Takes", "count", "shot",
    "Takes after which one has succeeded, at the shop's confidence.", rank=11)  # fmt: skip
BROKEN = FigureSpec("take.broken", "Copies broken", "count", "shot",
    "Copies that these takes break.", rank=10)  # fmt: skip
AT_ONCE = FigureSpec("take.at_once", "Models in one pass", "count", "shot",
    "How many of it stand before the lens in each pass, so that all that the picture shows are taken in so many passes.", rank=10)  # fmt: skip

# ---- scale (of a build)
BUILD_RATE = FigureSpec("frame_rate.governing", "Frame rate", "rate", "scale",
    "Highest frame rate that any of the build's shots is taken at; the shot is named.", rank=2)  # fmt: skip
HEIGHT = FigureSpec("model.height", "Model height", "length", "scale",
    "Height of the whole build as made, foot to top.", rank=7)  # fmt: skip
LENGTH = FigureSpec("model.length", "Model length", "length", "scale",
    "Length of the whole build as made, along the side view.", rank=13)  # fmt: skip
DEPTH = FigureSpec("model.depth", "Model depth", "length", "scale",
    "Depth of its deepest piece as made, away from the side view.", rank=19)  # fmt: skip
WEIGHT = FigureSpec("model.weight", "Weight of the build", "mass", "scale",
    "Mass of all pieces as made, hollow where they have a wall.", rank=8)  # fmt: skip
LONGEST = FigureSpec("piece.door", "Through the door", "length", "scale",
    "The middle side of the piece that needs most of a door.", rank=19)  # fmt: skip
STAGE_DEPTH = FigureSpec("stage.needed", "Stage must be long", "length", "scale",
    "How long a stage must be for the farthest thing of a shot that goes by the scale, and whoever is behind the camera.", rank=14)  # fmt: skip
PERSON = FigureSpec("person.height", "A person at this scale", "length", "scale",
    "How tall a person of 1.75 m stands at the build's scale.", rank=17)  # fmt: skip
WAVE = FigureSpec("water.wave", "Wave", "length", "scale",
    "Height of the wave as made, for its real height.", rank=10)  # fmt: skip
DROP = FigureSpec("water.drop", "A drop reads as", "length", "scale",
    "Real size that a drop of water seems to have on the model.", digits=2, rank=16)  # fmt: skip
INTERCUT = FigureSpec("intercut.error", "Double off by", "share", "scale",
    "How much larger (+) the double was built than it must be to cut with the full-size one.", digits=3, rank=4)  # fmt: skip
BOUGHT = FigureSpec("bought.error", "Bought parts off by", "share", "scale",
    "Size error of the nearest bought part, as a share; plus is too large.", digits=2, rank=15)  # fmt: skip
SPEED = FigureSpec("speed.model", "Model speed", "speed", "scale",
    "Speed on set that looks like the real speed, at the rate of the shot in which it moves.", rank=6)  # fmt: skip

# ---- lens (of a shot's set, its cameras, and what stands in it)
PLANE_AT = FigureSpec("plane.at", "Stands at", "length", "lens",
    "Distance on the floor, from the eye of the first camera, from which it looks as far away as decided.", rank=15)  # fmt: skip
PLANE_LOOKS = FigureSpec("plane.looks", "Looks as far away as", "length", "lens",
    "How far away it looks from where it stands, by its scale.", rank=18)  # fmt: skip
PLANE_BLUR = FigureSpec("plane.blur", "Blur there", "pixels", "lens",
    "Delivered pixels that a point of it spreads over at the stop and focus of the camera, diffraction included.", digits=2, rank=17)  # fmt: skip
LEAST_BLUR = FigureSpec("lens.least_blur", "Least blur there is", "pixels", "lens",
    "Worst blur at the stop of least blur: no other stop does better at that focus.", digits=2, rank=17)  # fmt: skip
AIR_FROM = FigureSpec("lens.sharp_from", "Sharp from", "length", "lens",
    "Where the sharp air begins at the stop and focus that are taken, from the camera's eye.", rank=17)  # fmt: skip
AIR_TO = FigureSpec("lens.sharp_to", "Sharp to", "length", "lens",
    "Where the sharp air ends at the stop and focus that are taken, from the camera's eye.", rank=17)  # fmt: skip
ANGLE = FigureSpec("lens.angle", "Angle of view, across", "angle", "lens",
    "Angle that the camera sees from side to side at its focus.", rank=18)  # fmt: skip
ANGLE_HIGH = FigureSpec("lens.angle_high", "Angle of view, high", "angle", "lens",
    "Angle that the camera sees from top to bottom at its focus.", rank=18)  # fmt: skip
BARREL = FigureSpec("lens.barrel", "Focus from the image plane", "length", "lens",
    "What the lens's barrel and a tape from the mark of the image plane say.", rank=18)  # fmt: skip
NEAREST = FigureSpec("lens.nearest", "Nearest focus", "length", "lens",
    "Nearest focus of the lens from the camera's eye, by its card.", rank=19)  # fmt: skip
CLEARANCE = FigureSpec("lens.clearance", "Clear before the lens", "length", "lens",
    "From the lens's front to the nearest thing that must be sharp.", rank=18)  # fmt: skip
CONFUSION = FigureSpec("lens.confusion", "Circle of confusion", "length", "lens",
    "Blur that one delivered pixel allows on the sensor.", rank=17)  # fmt: skip
NEAR = FigureSpec("lens.near", "Near end", "length", "lens",
    "Nearest point that must be sharp, from the camera's eye, on set.", rank=16)  # fmt: skip
FAR = FigureSpec("lens.far", "Far end", "length", "lens",
    "Farthest point that must be sharp, from the camera's eye, on set.", rank=17)  # fmt: skip
FOCUS = FigureSpec("lens.focus", "Focus at", "length", "lens",
    "Distance to focus at, from the camera's eye: both ends are then equally sharp.", rank=16)  # fmt: skip
STOP = FigureSpec("lens.stop", "Stop", "stop", "lens",
    "Widest f-number at which all that must be sharp is, diffraction included; where none holds it, that of least blur.", digits=2, rank=8)  # fmt: skip
BLUR = FigureSpec("lens.blur", "Worst blur", "pixels", "lens",
    "Delivered pixels that a point at either end of the depth spreads over at that stop, diffraction included.", digits=2, rank=15)  # fmt: skip
BEST_STOP = FigureSpec("lens.best_stop", "Stop of least blur", "stop", "lens",
    "F-number at which the ends of the depth are least unsharp: wider they lose to depth, narrower to diffraction.", digits=2, rank=16)  # fmt: skip
IMAGE = FigureSpec("lens.image_distance", "Image distance", "length", "lens",
    "From the lens to the image, f (1 + m/p): it takes the focal length's place in every field and share of the frame.", rank=18)  # fmt: skip
EXPOSURE = FigureSpec("light.exposure", "Exposure time", "screen_time", "lens",
    "Time that one frame is exposed.", rank=17)  # fmt: skip
EFFECTIVE = FigureSpec("light.effective_stop", "Effective stop", "stop", "lens",
    "F-number with the loss from focusing close.", digits=2, rank=17)  # fmt: skip
LIGHT = FigureSpec("light.illuminance", "Light on the set", "illuminance", "lens",
    "Incident light for a correct exposure at that stop and rate.", rank=9)  # fmt: skip
KNOWN_LIGHT = FigureSpec("light.known", "Light of the known set-up", "illuminance", "lens",
    "Incident light of the set-up that the shop knows.", rank=19)  # fmt: skip
LIGHT_MORE = FigureSpec("light.more", "More than the known set-up", "stops", "lens",
    "How many stops more light the shot takes than the set-up that the shop knows.", digits=2, rank=12)  # fmt: skip
LIT_AREA = FigureSpec("light.area", "Area to light", "area", "lens",
    "What is lit, estimated from what the camera sees of the depth that must be sharp.", digits=2, rank=18)  # fmt: skip
LAMP_POWER = FigureSpec("light.power", "Lamps", "power", "lens",
    "Power of the lamps, estimated from what a lamp gives and what of it reaches the set; about all of it warms the stage.", digits=2, rank=11)  # fmt: skip
AMPERES = FigureSpec("light.current", "Current of the lamps", "current", "lens",
    "What the lamps draw from the mains.", digits=2, rank=17)  # fmt: skip
CIRCUITS = FigureSpec("light.circuits", "Circuits", "count", "lens",
    "How many circuits the lamps take, none loaded further than its breaker may be for hours.", rank=13)  # fmt: skip
WARMS = FigureSpec("light.warms", "One degree warmer in", "duration", "lens",
    "How long the closed stage takes to warm by a degree from the lamps, nothing leaving.", digits=2, rank=18)  # fmt: skip
MODEL_CURRENT = FigureSpec("model_lamps.current", "Current of the lamps in it", "current", "lens",
    "What lamps on the model draw together.", digits=2, rank=18)  # fmt: skip
MODEL_POWER = FigureSpec("model_lamps.power", "Heat of the lamps in it", "power", "lens",
    "Power of the lamps on the model: all of it becomes heat inside.", digits=2, rank=16)  # fmt: skip
WIRE = FigureSpec("model_lamps.wire", "Wire", "area", "lens",
    "Section of copper for the lamps on the model, there and back.", digits=2, rank=18)  # fmt: skip
SCREEN = FigureSpec("screen.luminance", "Screen as bright as", "luminance", "lens",
    "Luminance at which a screen in the model looks like the white that it stands for, in the light of the shot.", digits=2, rank=17)  # fmt: skip
SCREEN_FLUX = FigureSpec("screen.flux", "Light of the screen", "luminous_flux", "lens",
    "Light that the screen must give for it.", digits=2, rank=18)  # fmt: skip
FINEST = FigureSpec("detail.finest", "Finest detail seen", "length", "lens",
    "Smallest thing on the model that two delivered pixels show.", rank=16)  # fmt: skip

# ---- mould (of a piece, and of the build)
FORM = FigureSpec("form.as_built", "Form as built", "thing", "mould",
    "The piece's form at the build's scale.", rank=17)  # fmt: skip
BLANKET = FigureSpec("rubber.blanket", "Blanket", "volume", "mould",
    "Rubber that lies on the form, from the form's whole curve of layers.", rank=12)  # fmt: skip
KEYS = FigureSpec("rubber.keys", "Keys and spout", "volume", "mould",
    "Rubber in keys, spout and vents.", rank=17)  # fmt: skip
WASTE = FigureSpec("rubber.waste", "Waste", "volume", "mould",
    "Rubber lost to wetting and scraping.", rank=17)  # fmt: skip
RUBBER_VOLUME = FigureSpec("rubber.volume", "Rubber to mix", "volume", "mould",
    "All the rubber of one mould, waste included.", rank=15)  # fmt: skip
RUBBER = FigureSpec("rubber.mass", "Rubber", "mass", "mould",
    "Weight of all the rubber of one mould, waste included.", rank=3)  # fmt: skip
STONE_VOLUME = FigureSpec("stone.volume", "Stone to mix", "volume", "mould",
    "All that a rigid mould and its core are poured of, waste included.", rank=15)  # fmt: skip
STONE = FigureSpec("stone.mass", "Stone", "mass", "mould",
    "Weight of all that a rigid mould and its core are poured of, waste included.", rank=3)  # fmt: skip
OVEN_LOAD = FigureSpec("oven.load", "Moulds an oven load", "count", "mould",
    "How many moulds of a baked piece the best oven of the shop takes at once.", rank=14)  # fmt: skip
WATER = FigureSpec("water.density", "Water", "density", "mould",
    "Density of the water at the shop's temperature by day.", digits=4, rank=19)  # fmt: skip
SLURRY = FigureSpec("stone.density", "Wet density", "density", "mould",
    "Density of the stone as it is poured, from its powder and its water.", rank=18)  # fmt: skip
DENSITY = FigureSpec("mix.density", "Density of the mix", "density", "mould",
    "Density of what is poured, with what is stirred in.", rank=18)  # fmt: skip
PRICE = FigureSpec("mix.price", "Price of the mix", "money_per_mass", "mould",
    "Price of a kilogram as it is poured: of stone the powder is paid, and what is stirred in counts.", rank=18)  # fmt: skip
HALVES = FigureSpec("stone.halves", "Two halves", "volume", "mould",
    "What the two halves of a rigid mould are poured of.", rank=12)  # fmt: skip
CORE = FigureSpec("stone.core", "Core", "volume", "mould",
    "The form less the gap all round.", rank=12)  # fmt: skip
SKIN = FigureSpec("stone.skin", "Skin", "volume", "mould",
    "What fills the gap between form and core: one casting; all of the form where there is no core.", rank=8)  # fmt: skip
JACKET_AREA = FigureSpec("jacket.area", "Jacket", "area", "mould",
    "Area to laminate: outside the blanket and both flange walls.", rank=16)  # fmt: skip
JACKET_THICKNESS = FigureSpec("jacket.thickness", "Laminate", "length", "mould",
    "Thickness of the laminate from its layers.", rank=17)  # fmt: skip
JACKET = FigureSpec("jacket.mass", "Jacket weight", "mass", "mould",
    "Weight of the laminate, mat and resin.", rank=12)  # fmt: skip
RESIN = FigureSpec("jacket.resin", "Jacket's resin", "mass", "mould",
    "Resin of the whole jacket, without its mat.", rank=13)  # fmt: skip
GEL_COAT = FigureSpec("gel.coat", "Gel coat", "volume", "mould",
    "Gel coat on the form of a laminate mould, as thick as decided.", rank=12)  # fmt: skip
GEL_VOLUME = FigureSpec("gel.volume", "Gel coat to mix", "volume", "mould",
    "All the gel coat of a laminate mould, waste included.", rank=15)  # fmt: skip
GEL = FigureSpec("gel.mass", "Gel coat, all", "mass", "mould",
    "Weight of all the gel coat of a laminate mould, waste included.", rank=3)  # fmt: skip
BLANK = FigureSpec("sheet.blank", "Blank", "area", "mould",
    "Area of one sheet that is drawn over the form, with what the clamp holds.", rank=15)  # fmt: skip
DRAWN = FigureSpec("sheet.drawn", "Thick when drawn", "length", "mould",
    "How thick the sheet is on average once it is drawn over the form; corners are thinner.", rank=8)  # fmt: skip
SHEETS = FigureSpec("sheet.count", "Sheets", "count", "mould",
    "Sheets to draw so that enough come out good, at the shop's confidence.", rank=6)  # fmt: skip
SHEET_MASS = FigureSpec("sheet.mass", "All sheets", "mass", "mould",
    "Weight of all sheets that are drawn, spoiled ones too.", rank=13)  # fmt: skip
SHEET_COST = FigureSpec("sheet.cost", "Sheets cost", "money", "mould",
    "Money for all sheets, at the card's price.", rank=9)  # fmt: skip
LAYER = FigureSpec("layer.volume", "Layer", "volume", "mould",
    "What one coat of a layer takes.", rank=16)  # fmt: skip
MOULD_WEIGHT = FigureSpec("mould.weight", "Mould weight", "mass", "mould",
    "What has to be lifted: what was poured without its waste, and the jacket.", rank=10)  # fmt: skip
RUBBER_COST = FigureSpec("rubber.cost", "Rubber cost", "money", "mould",
    "Money for what one mould is poured of, rubber or stone, at the card's price.", rank=9)  # fmt: skip
BUILD_RUBBER = FigureSpec("rubber.build_mass", "Rubber, all moulds", "mass", "mould",
    "Weight of the rubber of all moulds of the build.", rank=16)  # fmt: skip
BUILD_COST = FigureSpec("rubber.build_cost", "Rubber and stone, all moulds", "money", "mould",
    "Money for what all moulds of the build are poured of.", rank=16)  # fmt: skip
BUILD_TAXED = FigureSpec("rubber.build_cost_taxed", "The same with tax", "money", "mould",
    "What all moulds are poured of costs with tax, where the shop says what it is.", rank=15)  # fmt: skip

# ---- counts (of a build, of a piece and its variants)
FIGURES = FigureSpec("count.figures", "Whole figures", "count", "mould",
    "Figures of the build, by what they are for, and those that takes break.", rank=6)  # fmt: skip
ROW_CONFIDENCE = FigureSpec("count.row_confidence", "Confidence of each row", "share", "mould",
    "With which each row of castings must suffice so that whole figures come out with the shop's confidence.", digits=4, rank=15)  # fmt: skip
GOOD_ONES = FigureSpec("count.good", "Good ones wanted", "count", "mould",
    "Castings of a piece, or of one of its variants, that must come out good.", rank=11)  # fmt: skip
ASKED = FigureSpec("count.asked", "Castings asked for", "count", "mould",
    "Castings to make so that enough come out good, as the count stands now.", rank=6)  # fmt: skip
CASTINGS = FigureSpec("count.castings", "Castings", "count", "mould",
    "The number for the mould shop: what was frozen, and before that what is asked for.", rank=5)  # fmt: skip
ALL_CASTINGS = FigureSpec("count.all_castings", "Castings, all moulds", "count", "mould",
    "Castings from all moulds of the build, as the mould shop has them.", rank=6)  # fmt: skip
ONE_POURED = FigureSpec("casting.poured", "One casting, poured", "mass", "mould",
    "What is poured for one casting, wet as it comes from the mould.", rank=14)  # fmt: skip
ONE_CASTING = FigureSpec("casting.mass", "One casting", "mass", "mould",
    "Weight of one finished casting, dry.", rank=13)  # fmt: skip
CAST_MASS = FigureSpec("casting.all_mass", "All castings", "mass", "mould",
    "Material of all castings of a piece, with what is lost.", rank=8)  # fmt: skip
CAST_COST = FigureSpec("casting.cost", "Castings cost", "money", "mould",
    "Money for the material of all castings, at the card's price.", rank=9)  # fmt: skip
MOULD_TIME = FigureSpec("casting.mould_time", "Mould in use", "duration", "mould",
    "From the first casting of a piece to the last one out, through nights and days off.", rank=9)  # fmt: skip

# ---- mix (of a pour of a piece, and of its several mixes)
POUR = FigureSpec("mix.pour", "To mix", "mass", "mix",
    "Weight of all that is mixed for one pour: of a mould or a half of it, of a jacket's resin, of castings, of a coat.", rank=12)  # fmt: skip
POT_LIFE = FigureSpec("mix.pot_life", "Pot life here", "duration", "mix",
    "Time from mixing to gel at the shop's day temperature.", rank=16)  # fmt: skip
PACE = FigureSpec("mix.pace", "To work in a kg", "duration", "mix",
    "Working time for a kilogram of what is laid up, brushed or sprayed: no batch is larger than hands can use before it gels.", rank=18)  # fmt: skip
MOST = FigureSpec("mix.most", "Most in one batch", "mass", "mix",
    "Largest batch that vessel and pot life allow.", rank=16)  # fmt: skip
MIX = FigureSpec("mix.mass", "Mix", "mass", "mix",
    "Weight of one of several mixes that fill a mould.", rank=13)  # fmt: skip
FILL = FigureSpec("mix.fill", "Vessel filled to", "share", "mix",
    "How far one batch fills the vessel that it is mixed in.", digits=2, rank=17)  # fmt: skip
JOINT = FigureSpec("mix.joint", "First pour to last", "duration", "mix",
    "Time from the first batch in the mould to the last; batches that must become one body meet within the pot life.", rank=12)  # fmt: skip
BATCHES = FigureSpec("mix.batches", "Batches", "count", "mix",
    "Number of even batches.", rank=4)  # fmt: skip
BATCH = FigureSpec("mix.batch", "Each batch", "mass", "mix",
    "Weight of one batch.", rank=12)  # fmt: skip
PART = FigureSpec("mix.part", "Part", "mass", "mix",
    "Weight of one part, or of what is stirred in, of one batch.", rank=17)  # fmt: skip
SPARE = FigureSpec("mix.spare", "Left when poured", "duration", "mix",
    "What is left of the pot life when one batch is in the mould.", rank=17)  # fmt: skip
POUR_TIME = FigureSpec("mix.pour_time", "Pouring takes", "duration", "mix",
    "Time to weigh, stir and pour all batches.", rank=16)  # fmt: skip

# ---- cure (of a pour)
POURED = FigureSpec("cure.poured", "Poured", "moment", "cure",
    "When the last batch is in, by the plan; of castings that of the first turn.", rank=16)  # fmt: skip
CURE = FigureSpec("cure.time", "Cure here", "duration", "cure",
    "Time to demould over the shop's days and nights, with the mould's lag.", rank=9)  # fmt: skip
OPENS = FigureSpec("cure.opens", "Opens", "moment", "cure",
    "When it may be opened, or worked on.", rank=5)  # fmt: skip
MOULD_DONE = FigureSpec("mould.done", "Mould ready", "moment", "mould",
    "When all is done that is done once a mould.", rank=7)  # fmt: skip

# ---- shoot (of a build, of its pieces, of one operation)
WORK = FigureSpec("plan.work", "Work", "duration", "shoot",
    "Working time of one operation, as often as it is done.", rank=18)  # fmt: skip
READY = FigureSpec("plan.ready", "Ready", "moment", "shoot",
    "When the build is ready, by the forward plan in shop hours.", rank=9)  # fmt: skip
DUE = FigureSpec("plan.due", "Due", "moment", "shoot",
    "Call of the first shot that needs the build.", rank=17)  # fmt: skip
SLACK = FigureSpec("plan.slack", "Slack to the shoot", "shop_days", "shoot",
    "Days of shop hours between ready and due; minus is late. Of a build the least of its pieces and of the figure.", digits=2, rank=1)  # fmt: skip
PIECE_READY = FigureSpec("piece.ready", "Piece ready", "moment", "shoot",
    "When one piece has come to the end of its route.", rank=16)  # fmt: skip
PIECE_DUE = FigureSpec("piece.due", "Piece due", "moment", "shoot",
    "Call of the first shot that needs this piece.", rank=19)  # fmt: skip
PIECE_SLACK = FigureSpec("piece.slack", "Piece's slack", "shop_days", "shoot",
    "Days of shop hours between the end of its route and the first shot that needs it; minus is late.", digits=2, rank=16)  # fmt: skip
HANDS = FigureSpec("plan.hands", "Work by hand", "duration", "shoot",
    "Working time of all operations.", rank=12)  # fmt: skip

# ---- the stage of a shot: planes in depth, air, tables, stands
EYE_REAL = FigureSpec("stage.eye_real", "The eye looks, over the ground", "length", "lens",
    "How high the eye looks over the ground, real: as far as it is over the foot of the main build, times its scale.", rank=17)  # fmt: skip
REACH = FigureSpec("lens.reach", "Image distance in pixels", "pixels", "lens",
    "Image distance of the camera in delivered pixels: so many pixels are a metre seen from a metre.", digits=4, rank=19)  # fmt: skip
PLANE_FOOT = FigureSpec("plane.foot", "Its ground over the floor", "length", "lens",
    "How high over the floor the ground of it lies, so that its horizon goes through the eye.", rank=16)  # fmt: skip
PLANE_FINEST = FigureSpec("plane.finest", "Smallest that reads on it", "length", "lens",
    "Smallest thing that reads on it from there: two delivered pixels or its blur.", digits=2, rank=17)  # fmt: skip
PLANE_TIER = FigureSpec("plane.tier", "Finish", "text", "lens",
    "What a hand must make of it: hero, mid, block or cut-out, by the smallest thing that reads.", rank=16)  # fmt: skip
CONTRAST_WANTED = FigureSpec("plane.contrast", "Contrast it wants", "share", "lens",
    "Share of its contrast that it keeps where it looks to be, in air of that sight.", digits=2, rank=18)  # fmt: skip
CONTRAST_AIR = FigureSpec("plane.contrast_by_air", "Contrast by air alone", "share", "lens",
    "What air as thick as the base scale wants it leaves of its contrast: the rest is painted.", digits=2, rank=18)  # fmt: skip
SIDEWAYS = FigureSpec("plane.sideways", "Sideways or up until it tells", "length", "lens",
    "How far the eye may go sideways or up until it has shifted by what passes from where it should be.", rank=17)  # fmt: skip
ALONG = FigureSpec("plane.along", "Along until it tells", "length", "lens",
    "How far the eye may go towards it until its edge in the frame is off by what passes.", rank=17)  # fmt: skip
FREE_SIDEWAYS = FigureSpec("stage.sideways", "The camera may go sideways or up", "length", "lens",
    "How far the camera may go to either side, up or down, until the first plane tells.", rank=13)  # fmt: skip
FREE_ALONG = FigureSpec("stage.along", "The camera may go along", "length", "lens",
    "How far the camera may go forward or back until the first plane tells.", rank=13)  # fmt: skip
SIGHT = FigureSpec("stage.sight", "Sight on the stage", "length", "lens",
    "How far one must see through the haze on the stage, by the base scale.", rank=18)  # fmt: skip
CARBON_DIOXIDE = FigureSpec("stage.carbon_dioxide", "Carbon dioxide from dry ice", "share", "lens",
    "Share of the stage's air at the end, mixed through the whole of it: near the floor it is more.", digits=2, rank=9)  # fmt: skip
ICE_TIME = FigureSpec("stage.ice_time", "Until the limit of a quarter of an hour", "duration", "lens",
    "How long dry ice may go in until the whole stage is at the short limit.", digits=2, rank=12)  # fmt: skip
TABLES = FigureSpec("stage.tables", "Tables", "count", "lens",
    "Tables into which its ground is parted so that an arm reaches everything.", rank=18)  # fmt: skip
TABLE_LOAD = FigureSpec("stage.table_load", "On each table", "mass", "lens",
    "Weight of the build on each of its tables, spread evenly.", rank=18)  # fmt: skip
HANDS_AROUND = FigureSpec("stage.hands", "Places for hands", "count", "lens",
    "How many people find room along the breaks and long sides of its tables.", rank=19)  # fmt: skip
MATCH_OFF = FigureSpec("match.off", "Off what the plate asks", "length", "lens",
    "How far lens, height or distance of our camera is from what matches the plate.", digits=2, rank=14)  # fmt: skip
MATCH_TURN = FigureSpec("match.turn", "Turned off the plate", "angle", "lens",
    "How far our camera is tilted or rolled otherwise than the plate's.", digits=2, rank=14)  # fmt: skip
MATCH_SHIFT = FigureSpec("match.shift", "Shows as", "pixels", "lens",
    "Delivered pixels by which the picture parts from the plate for it: at the edge of the frame, or at the main build.", digits=2, rank=14)  # fmt: skip
STAND_ALLOWED = FigureSpec("stand.allowed", "What a stand may be off shows as", "pixels", "lens",
    "Delivered pixels by which the nearest plane shifts when a stand is as far off as it may be.", digits=2, rank=19)  # fmt: skip
STAND_OFF = FigureSpec("stand.off", "Stands off its mark", "length", "lens",
    "How far a stand was found from where it belongs.", digits=2, rank=12)  # fmt: skip
STAND_SHIFT = FigureSpec("stand.shift", "Shows as", "pixels", "lens",
    "Delivered pixels by which so much shifts at the nearest plane.", digits=2, rank=13)  # fmt: skip

# ---- what moves in a shot
MOVE_SPEED = FigureSpec("move.speed", "Goes at", "speed", "lens",
    "Speed on set that looks like the real speed, at the rate of the shot.", rank=12)  # fmt: skip
MOVE_STEP = FigureSpec("move.step", "Each exposure", "length", "lens",
    "How far it goes from one exposure to the next.", rank=13)  # fmt: skip
MOVE_TIME = FigureSpec("move.time", "Takes on set", "screen_time", "lens",
    "Seconds on set for the seconds that it lasts on screen.", digits=2, rank=14)  # fmt: skip
ACCELERATION = FigureSpec("move.acceleration", "Speeds up by", "acceleration", "lens",
    "Acceleration over its run-up.", rank=15)  # fmt: skip
PULL = FigureSpec("move.pull", "Pull", "force", "lens",
    "Greatest pull on what it is tied by, while it speeds up.", rank=9)  # fmt: skip
PULL_ALLOWED = FigureSpec("move.allowed", "The weakest tie may get", "force", "lens",
    "What the weakest of its ties bears, over its safety factor.", rank=13)  # fmt: skip
STEADY_PULL = FigureSpec("move.steady_pull", "Pull at speed", "force", "lens",
    "Pull that is left once it goes at its speed.", rank=14)  # fmt: skip
LEAST_RUN_UP = FigureSpec("move.least_run_up", "Run-up at least", "length", "lens",
    "Shortest run-up at which its weakest tie is not pulled too hard.", rank=12)  # fmt: skip
TRACK = FigureSpec("move.track", "Track", "length", "lens",
    "Run-up and take together; braking comes on top.", rank=14)  # fmt: skip
SWING = FigureSpec("move.period", "Swings in", "duration", "lens",
    "Period of its swing on set.", rank=14)  # fmt: skip
SWING_SCREEN = FigureSpec("move.period_screen", "On screen in", "screen_time", "lens",
    "Period of its swing as it shows.", rank=14)  # fmt: skip
SWING_LEFT = FigureSpec("move.swing_left", "Swing that is left", "length", "lens",
    "How far it swings to either side after its ramp.", digits=2, rank=13)  # fmt: skip
CUE_TIME = FigureSpec("move.cue_time", "First to last cue", "duration", "lens",
    "Time on set from the first cue to the last.", digits=4, rank=12)  # fmt: skip
CUE_GAP = FigureSpec("move.cue_gap", "From cue to cue", "duration", "lens",
    "Time on set from one cue to the next.", digits=4, rank=12)  # fmt: skip
CUE_FRAMES = FigureSpec("move.cue_frames", "Frames from cue to cue", "factor", "lens",
    "Frames of the camera from one cue to the next.", rank=13)  # fmt: skip
CUE_READS = FigureSpec("move.front", "The front reads as", "speed", "lens",
    "Real speed that the front along the model seems to have.", rank=13)  # fmt: skip
DROP_HEIGHT = FigureSpec("move.drop", "Falls on set", "length", "lens",
    "Height of its fall as made.", rank=14)  # fmt: skip
DROP_TIME = FigureSpec("move.drop_time", "Falls for", "duration", "lens",
    "How long it falls on set.", rank=14)  # fmt: skip
DROP_SPEED = FigureSpec("move.drop_speed", "Arrives at", "speed", "lens",
    "Speed with which it arrives on set.", rank=15)  # fmt: skip
DROP_SCREEN = FigureSpec("move.drop_screen", "Falls on screen for", "screen_time", "lens",
    "How long the fall shows.", rank=14)  # fmt: skip
CREST = FigureSpec("move.crest", "Crest to crest on set", "length", "lens",
    "Length of the waves as made.", rank=14)  # fmt: skip
CREST_TIME = FigureSpec("move.crest_time", "A wave each", "duration", "lens",
    "Period at which a paddle makes waves of that length on deep water.", rank=13)  # fmt: skip
CREST_READS = FigureSpec("move.crest_reads", "Waves read as", "speed", "lens",
    "Real speed that the waves seem to have.", rank=14)  # fmt: skip
SINKS = FigureSpec("move.sinks", "Sinks at", "speed", "lens",
    "Speed at which its grains sink through still air.", rank=14)  # fmt: skip
SINKS_SCREEN = FigureSpec("move.sinks_screen", "Sinks on screen at", "speed", "lens",
    "Real speed with which it seems to sink.", rank=13)  # fmt: skip
FEED = FigureSpec("move.feed", "To let fall", "mass_flow", "lens",
    "Mass a minute for its coverage, in the time on set.", rank=12)  # fmt: skip
IN_THE_AIR = FigureSpec("move.dust", "Dust in the air", "density", "lens",
    "Mass of it in each cubic metre of air.", digits=2, rank=8)  # fmt: skip
MOVE_FRAMES = FigureSpec("move.frames", "Frames", "count", "lens",
    "Frames of the move as it shows.", rank=15)  # fmt: skip
CAMERA_WAY = FigureSpec("move.way", "The camera goes", "length", "lens",
    "Whole way of the camera on the floor.", rank=14)  # fmt: skip
CAMERA_SPEED = FigureSpec("move.camera_speed", "At most", "speed", "lens",
    "Greatest speed of the camera on set: at a high rate it has less time.", rank=13)  # fmt: skip
CAMERA_READS = FigureSpec("move.camera_reads", "Reads as", "speed", "lens",
    "Real speed that the camera seems to have at its fastest.", rank=14)  # fmt: skip

# ---- the whole job
NEEDS = FigureSpec("job.needs", "Needs of all shots", "count", "shot",
    "What the shots need, counted line by line; a shot that nobody has broken down counts as one.")  # fmt: skip
UNCOVERED = FigureSpec("job.uncovered", "Needs that nobody covers", "count", "shot",
    "Needs for which no build, stock, people or decision is named, or one that is gone.")  # fmt: skip
TO_DECIDE = FigureSpec("job.to_decide", "Needs to decide", "count", "shot",
    "Needs that wait for a decision.")  # fmt: skip
UNSEEN = FigureSpec("job.unseen", "Pieces in no shot", "count", "shot",
    "Pieces of builds that no shot sees.")  # fmt: skip
JOB_CASTINGS = FigureSpec("job.castings", "Castings of all builds", "count", "mould",
    "Castings from all moulds of the job, as the mould shop has them.")  # fmt: skip
LATE_BUILDS = FigureSpec("job.late", "Builds that are late", "count", "shoot",
    "Builds that are ready after the call of their first shoot day.")  # fmt: skip
HELD_BUILDS = FigureSpec("job.held", "Builds that are held", "count", "mould",
    "Builds whose moulds wait for a signature.")  # fmt: skip
FROZEN_BUILDS = FigureSpec("job.frozen", "Builds with a frozen count", "count", "mould",
    "Builds of which the mould shop has its number.")  # fmt: skip
OFF_COUNT = FigureSpec("job.off_count", "Builds off their frozen count", "count", "mould",
    "Builds whose count asks for something else than was frozen.")  # fmt: skip
LATE_USES = FigureSpec("job.late_uses", "Shots that come too late", "count", "shoot",
    "Shots that find something soiled or gone that they need fresh, in the order that is planned.")  # fmt: skip
LEAST_LATE = FigureSpec("job.least_late", "Shots too late at best", "count", "shoot",
    "The same, in the order within the days that ruins least.")  # fmt: skip

# ---- a frozen count that is left
FREEZE_MASS = FigureSpec("freeze.mass", "Material, to follow the count", "mass", "mould",
    "What more of a material is cast when the frozen number is changed to what is asked for.")  # fmt: skip
FREEZE_COST = FigureSpec("freeze.cost", "Money, to follow the count", "money", "mould",
    "What more the castings cost when the frozen number is changed to what is asked for.")  # fmt: skip
FREEZE_MOULD_TIME = FigureSpec("freeze.mould_time", "Mould time, to follow the count", "duration", "mould",
    "How much longer moulds are in use when the frozen number is changed to what is asked for.")  # fmt: skip
FREEZE_READY = FigureSpec("freeze.ready", "Ready later, to follow the count", "duration", "mould",
    "How much later the build is ready when the frozen number is changed to what is asked for.")  # fmt: skip

ALL: tuple[FigureSpec, ...] = tuple(spec for spec in list(globals().values()) if isinstance(spec, FigureSpec))
