// Made by scripts/constants.mjs from openapi.json: change the Go types instead.

/** The words that a field may hold. */
export const words = {
  'Account': {
    'kind': ["alike","sag","step","bank"],
  },
  'AheadJob': {
    'work': ["test","freshen","rebuild"],
  },
  'Answer': {
    'result': ["kept","already","refused"],
  },
  'Asked': {
    'what': ["dates","date","unit","engine","engines","turned","head","kind","leak","supply","second","ranges","remarks","far","decimal","columns","hidden"],
  },
  'Attempt': {
    'position': ["tdc","bdc","swept"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Bore': {
    'state': ["steady","retest","watch","act","stop"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Choice': {
    'air': ["kPa","mbar","inHg"],
    'clock': ["24","12"],
    'dates': ["day-month","month-day"],
    'distance': ["km","mi"],
    'height': ["m","ft"],
    'length': ["mm","in"],
    'pressure': ["psi","kPa","bar","kgf/cm2"],
    'temperature': ["°C","°F"],
    'torque': ["Nm","lbf·ft"],
    'volume': ["cc","l","ci"],
  },
  'Column': {
    'kind': ["dry","wet","leak"],
    'means': ["date","reading","cylinder","kind","meter","note","supply","held","place","level","unit","attempt","engine","bank","visit","stage","temp","gauge","operator","skip"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'CompareCandidate': {
    'state': ["steady","retest","watch","act","stop"],
  },
  'CompareColumn': {
    'state': ["steady","retest","watch","act","stop"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'CompareCylinder': {
    'move': ["better","worse","same","untold"],
  },
  'CompareResult': {
    'answer': ["better","worse","same","untold"],
    'purpose': ["repair","season","builds","gauges","change"],
  },
  'Compression': {
    'mode': ["dry","wet"],
  },
  'Conditions': {
    'engine_temp': ["hot","warm","cold"],
    'plugs_out': ["all","one"],
    'throttle': ["open","closed","none"],
  },
  'Cranking': {
    'rule': ["plateau","count","time"],
  },
  'DiaryItem': {
    'kind': ["finish","mend","retest","after","test","first","plan"],
    'standing': ["overdue","now","soon","later","put off"],
  },
  'Engine': {
    'duty': ["street","track-day","circuit","drag","rally","pulling","marine","motorcycle","kart","work"],
    'fuel': ["petrol","diesel","ethanol","methanol","gas","other"],
    'fuelling': ["injection","carburettor"],
    'induction': ["natural","turbo","supercharged"],
    'kind': ["four-stroke","two-stroke","rotary"],
    'meter_unit': ["h","km","mi","runs","events"],
    'place': ["car","stand","sold"],
    'ring_pack': ["conventional","gapless","gas-ported","wide-gap"],
    'rotation': ["clockwise","anticlockwise"],
  },
  'EnginePage': {
    'state': ["steady","retest","watch","act","stop"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Entry': {
    'kind': ["engine","build","event","note","test","whole","pull","leakdown","look","photo","tick","strike","unstrike","move","as-read","tester","protocol","plan","rule","units","columns","put-off","meeting","car","start","job","terms","kept"],
  },
  'Event': {
    'kind': ["ran-hot","over-revved","took-water","lost-oil","ran-lean","stood","took-dirt","ran-backwards","cam-drive","hit","first-run","repair","other"],
    'work': ["valve-job","valve-lash","decoke","head-gasket","head","rings","piston","rod","cam","cam-timing","reeds","crank-seal","apex-seals","rebuild","other"],
  },
  'FilmFound': {
    'kind': ["still","valve","bare","leak-down"],
  },
  'FilmInBody': {
    'kind': ["valve","bare","leak-down"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'FilmSeen': {
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Gauge': {
    'kind': ["valve","bare","leak-down"],
  },
  'GaugeNow': {
    'phase': ["open","rising","settled","stopped","taken"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Guess': {
    'dates': ["dmy","mdy","iso","named month","serial","undecidable"],
    'decimal': [".","comma"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Inspection': {
    'advice': ["buy","cheaper","leave","open"],
  },
  'Interval': {
    'id': ["street","track-day","circuit","drag","rally","pulling","marine","motorcycle","kart","work"],
  },
  'JudgedCylinder': {
    'state': ["steady","retest","watch","act","stop"],
  },
  'JudgedFault': {
    'state': ["steady","retest","watch","act","stop"],
  },
  'JudgedSession': {
    'mark': ["steady","retest","watch","act","stop"],
    'state': ["steady","retest","watch","act","stop"],
  },
  'LeakBody': {
    'position': ["tdc","bdc","swept"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Leakdown': {
    'position': ["tdc","bdc","swept"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'LookBody': {
    'what': ["plug","coil","borescope","oil-pressure","end-play","lash","stroke-marks","oil","coolant","ports","other"],
  },
  'Mended': {
    'move': ["better","worse","same","untold"],
  },
  'Moved': {
    'move': ["better","worse","same","untold"],
  },
  'MovingStep': {
    'kind': ["tester","whole","strike","test"],
  },
  'Observation': {
    'what': ["plug","coil","borescope","oil-pressure","end-play","lash","stroke-marks","oil","coolant","ports","other"],
  },
  'PaperEntry': {
    'kind': ["whole","test","pull","leakdown","strike","move"],
  },
  'PaperTold': {
    'state': ["steady","retest","watch","act","stop"],
  },
  'Path': {
    'where': ["crankcase","intake","exhaust","coolant","neighbour","plug_hole"],
  },
  'Picks': {
    'dates': ["dmy","mdy"],
    'decimal': [".","comma"],
    'far': ["take","leave"],
    'hidden': ["take","leave"],
    'kind': ["dry","leak"],
    'leak': ["lost","left","held","dropped"],
    'ranges': ["both","leave"],
    'remarks': ["count","strike"],
    'second': ["dry","wet"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'PointInBody': {
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'PracticeAct': {
    'what': ["listen","oil","snap","warm","gauge","throttle","charger","tdc","borescope","coolant","cam-marks","piston-height","lash"],
    'where': ["","crankcase","intake","exhaust","coolant","neighbour","plug_hole"],
  },
  'PracticeDone': {
    'what': ["listen","oil","snap","warm","gauge","throttle","charger","tdc","borescope","coolant","cam-marks","piston-height","lash"],
    'where': ["","crankcase","intake","exhaust","coolant","neighbour","plug_hole"],
  },
  'PracticeStep': {
    'state': ["steady","retest","watch","act","stop"],
  },
  'Protocol': {
    'leakdown': ["never","asked","always"],
    'plugs_out': ["all","one"],
    'pulls': ["agree","three","one"],
    'temp': ["hot","warm","cold"],
    'wet': ["never","asked","always"],
  },
  'Pull': {
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'PullBody': {
    'mode': ["dry","wet"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Quantity': {
    'of': ["length","height","temperature","air","volume","distance","torque","force"],
  },
  'RackBore': {
    'state': ["steady","retest","watch","act","stop"],
  },
  'RackEngine': {
    'place': ["car","stand","sold"],
    'state': ["steady","retest","watch","act","stop"],
  },
  'Read-seasonRequest': {
    'order': ["dmy","mdy"],
  },
  'Reading': {
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Reliable': {
    'word': ["certain","likely","probable","unclear"],
  },
  'Repaired': {
    'worked': ["surely","probably","partly","not","unclear"],
  },
  'RuleLine': {
    'group': ["limits","intervals","causes"],
  },
  'SeasonCell': {
    'level': ["fine","near","over","far"],
  },
  'SeasonCellJob': {
    'work': ["test","freshen","rebuild"],
  },
  'SeasonNextStart': {
    'level': ["fine","near","over","far"],
  },
  'SeasonOther': {
    'level': ["fine","near","over","far"],
    'work': ["test","freshen","rebuild"],
  },
  'SeasonTodo': {
    'work': ["test","freshen","rebuild"],
  },
  'Seat': {
    'do': ["wait","crank","stop","turn","hold","done"],
    'rotation': ["clockwise","anticlockwise"],
  },
  'Session': {
    'place': ["car","stand","dyno"],
    'stage': ["as-found","pre-install","after-running","dyno","pre-season","service","between-runs","post-season","after-incident","after-repair"],
  },
  'Sheet': {
    'leak_unit': ["psi","kPa","bar","kgf/cm2"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'SheetColumn': {
    'kind': ["dry","wet","leak"],
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'SheetRead': {
    'encoding': ["utf-8","utf-8-bom","utf-16","cp1252","xlsx","ods"],
  },
  'SheetStep': {
    'id': ["prepare","dry","wet","leak-down","look","findings","put-back"],
  },
  'StripsMark': {
    'kind': ["build","event","gauge","repair","season"],
  },
  'StripsPoint': {
    'heard': ["crankcase","intake","exhaust","coolant","neighbour"],
    'state': ["steady","retest","watch","act","stop"],
  },
  'StripsSpan': {
    'kind': ["build","season"],
  },
  'StripsVisit': {
    'state': ["steady","retest","watch","act","stop"],
  },
  'TakeInBody': {
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Test': {
    'place': ["car","stand","dyno"],
    'stage': ["as-found","pre-install","after-running","dyno","pre-season","service","between-runs","post-season","after-incident","after-repair"],
  },
  'Tester': {
    'kind': ["compression","leakdown","rotary"],
  },
  'TesterPage': {
    'kind': ["compression","leakdown","rotary"],
  },
  'Trace': {
    'form': ["pulses","staircase","current"],
  },
  'TracePull': {
    'unit': ["psi","kPa","bar","kgf/cm2"],
  },
  'Wheel': {
    'rotation': ["clockwise","anticlockwise"],
  },
  'as_read_entry': {
    'kind': ["as-read"],
  },
  'build_entry': {
    'kind': ["build"],
  },
  'car_entry': {
    'kind': ["car"],
  },
  'columns_entry': {
    'kind': ["columns"],
  },
  'engine_entry': {
    'kind': ["engine"],
  },
  'event_entry': {
    'kind': ["event"],
  },
  'job_entry': {
    'kind': ["job"],
  },
  'leakdown_entry': {
    'kind': ["leakdown"],
  },
  'look_entry': {
    'kind': ["look"],
  },
  'meeting_entry': {
    'kind': ["meeting"],
  },
  'move_entry': {
    'kind': ["move"],
  },
  'note_entry': {
    'kind': ["note"],
  },
  'photo_entry': {
    'kind': ["photo"],
  },
  'plan_entry': {
    'kind': ["plan"],
  },
  'protocol_entry': {
    'kind': ["protocol"],
  },
  'pull_entry': {
    'kind': ["pull"],
  },
  'put_off_entry': {
    'kind': ["put-off"],
  },
  'rule_entry': {
    'kind': ["rule"],
  },
  'start_entry': {
    'kind': ["start"],
  },
  'strike_entry': {
    'kind': ["strike"],
  },
  'terms_entry': {
    'kind': ["terms"],
  },
  'test_entry': {
    'kind': ["test"],
  },
  'tester_entry': {
    'kind': ["tester"],
  },
  'tick_entry': {
    'kind': ["tick"],
  },
  'units_entry': {
    'kind': ["units"],
  },
  'unstrike_entry': {
    'kind': ["unstrike"],
  },
  'whole_entry': {
    'kind': ["whole"],
  },
} as const

/** The longest text that a field may hold. */
export const longest = {
  'AheadCar': {
    'id': 120,
    'name': 120,
    'sits': 120,
  },
  'AheadJob': {
    'before': 120,
    'engine': 120,
    'id': 250,
  },
  'AheadMeeting': {
    'id': 120,
    'name': 120,
    'sort': 60,
  },
  'AheadStart': {
    'car': 120,
    'engine': 120,
    'id': 250,
    'meeting': 120,
    'stopped': 300,
  },
  'Attempt': {
    'key': 120,
    'note': 1000,
    'struck': 200,
    'tester': 120,
  },
  'BeginInBody': {
    'engine': 40,
    'hide': 40,
    'lesson': 40,
  },
  'Build': {
    'id': 120,
    'struck': 200,
    'what': 200,
  },
  'Change-deviceRequest': {
    'name': 60,
  },
  'Column': {
    'cylinder': 12,
  },
  'Compression': {
    'tester': 120,
  },
  'Conditions': {
    'typed': 40,
  },
  'CopyIn': {
    'name': 200,
    'place': 1000,
  },
  'End-filmRequest': {
    'id': 60,
  },
  'Engine': {
    'id': 120,
    'name': 120,
    'note': 10000,
    'owner': 120,
    'protocol': 60,
    'typed': 40,
  },
  'EnterRequest': {
    'name': 60,
    'passcode': 40,
  },
  'Entry': {
    'by': 120,
    'doubt': 300,
    'engine': 120,
  },
  'Event': {
    'after': 120,
    'key': 120,
    'struck': 200,
    'what': 500,
  },
  'FilmInBody': {
    'engine': 120,
    'id': 60,
    'name': 200,
  },
  'Identity': {
    'block': 80,
    'builder': 120,
    'casting': 80,
    'chassis': 80,
    'email': 120,
    'head': 80,
    'phone': 40,
    'seal': 80,
    'serial': 80,
  },
  'Layout': {
    'names': 12,
  },
  'LeakBody': {
    'key': 120,
    'note': 1000,
    'test': 120,
    'tester': 120,
  },
  'Leakdown': {
    'key': 120,
    'note': 1000,
    'struck': 200,
    'tester': 120,
  },
  'Limits': {
    'source': 200,
  },
  'LookBody': {
    'finding': 200,
    'item': 40,
    'key': 120,
    'note': 1000,
    'struck': 200,
    'test': 120,
    'unit': 20,
  },
  'MarkBody': {
    'entry': 120,
    'test': 120,
    'tester': 120,
    'to_test': 120,
    'why': 200,
  },
  'Note': {
    'key': 120,
    'struck': 200,
    'text': 1000,
  },
  'Observation': {
    'finding': 200,
    'item': 40,
    'key': 120,
    'note': 1000,
    'struck': 200,
    'unit': 20,
  },
  'Own': {
    'id': 80,
    'why': 500,
  },
  'PaperRow': {
    'date': 40,
    'gauge': 120,
    'key': 60,
    'meter': 40,
    'note': 10000,
    'temp': 20,
    'test': 120,
    'unit': 10,
    'what': 20,
  },
  'PaperWas': {
    'date': 40,
    'gauge': 120,
    'meter': 40,
    'note': 10000,
    'temp': 20,
  },
  'PastOwner': {
    'name': 120,
    'until': 40,
  },
  'PhotoBody': {
    'note': 1000,
    'test': 120,
  },
  'Picks': {
    'engine': 120,
    'supply': 20,
  },
  'PointInBody': {
    'id': 60,
  },
  'PracticeDecision': {
    'kind': 40,
  },
  'Protocol': {
    'evenness': 20,
    'id': 60,
    'name': 80,
  },
  'Pull': {
    'doubt': 300,
    'key': 120,
    'note': 1000,
    'struck': 200,
  },
  'PullBody': {
    'key': 120,
    'note': 1000,
    'test': 120,
    'tester': 120,
  },
  'PutOff': {
    'item': 200,
    'key': 120,
    'struck': 200,
    'why': 500,
  },
  'Read-seasonRequest': {
    'text': 500000,
  },
  'Rewritten': {
    'text': 200,
  },
  'SeasonMeetingHead': {
    'id': 120,
    'name': 120,
    'sort': 60,
  },
  'Seat': {
    'engine': 120,
    'foot': 200,
    'line': 300,
    'name': 120,
    'test': 120,
  },
  'Second-placeRequest': {
    'place': 1000,
  },
  'Session': {
    'agreed': 500,
    'build': 120,
    'gauge': 120,
    'id': 120,
    'kit': 120,
    'note': 10000,
    'operator': 120,
    'protocol': 60,
    'struck': 200,
  },
  'SheetColumn': {
    'cylinder': 12,
    'means': 20,
  },
  'SheetColumns': {
    'headings': 2000,
    'id': 64,
  },
  'SpecRow': {
    'unit': 20,
    'value': 80,
    'what': 80,
  },
  'SyncRequest': {
    'address': 200,
    'passcode': 40,
  },
  'TakeInBody': {
    'engine': 120,
  },
  'Test': {
    'agreed': 500,
    'build': 120,
    'gauge': 120,
    'id': 120,
    'kit': 120,
    'note': 10000,
    'operator': 120,
    'protocol': 60,
    'struck': 200,
  },
  'Tester': {
    'id': 120,
    'name': 120,
  },
  'TesterPage': {
    'id': 120,
    'name': 120,
  },
  'TickBody': {
    'line': 60,
    'test': 120,
  },
  'Trace': {
    'curve': 200000,
    'file': 200,
    'why': 1000,
  },
  'VerifyRequest': {
    'code': 2000,
  },
  'as_read_entry': {
    'by': 120,
    'engine': 120,
  },
  'build_entry': {
    'by': 120,
    'engine': 120,
  },
  'car_entry': {
    'by': 120,
    'engine': 120,
  },
  'columns_entry': {
    'by': 120,
    'engine': 120,
  },
  'engine_entry': {
    'by': 120,
    'engine': 120,
  },
  'event_entry': {
    'by': 120,
    'engine': 120,
  },
  'job_entry': {
    'by': 120,
    'engine': 120,
  },
  'leakdown_entry': {
    'by': 120,
    'engine': 120,
  },
  'look_entry': {
    'by': 120,
    'engine': 120,
  },
  'meeting_entry': {
    'by': 120,
    'engine': 120,
  },
  'move_entry': {
    'by': 120,
    'engine': 120,
  },
  'note_entry': {
    'by': 120,
    'engine': 120,
  },
  'photo_entry': {
    'by': 120,
    'engine': 120,
  },
  'plan_entry': {
    'by': 120,
    'engine': 120,
  },
  'protocol_entry': {
    'by': 120,
    'engine': 120,
  },
  'pull_entry': {
    'by': 120,
    'engine': 120,
  },
  'put_off_entry': {
    'by': 120,
    'engine': 120,
  },
  'rule_entry': {
    'by': 120,
    'engine': 120,
  },
  'start_entry': {
    'by': 120,
    'engine': 120,
  },
  'strike_entry': {
    'by': 120,
    'engine': 120,
  },
  'terms_entry': {
    'by': 120,
    'engine': 120,
  },
  'test_entry': {
    'by': 120,
    'engine': 120,
  },
  'tester_entry': {
    'by': 120,
    'engine': 120,
  },
  'tick_entry': {
    'by': 120,
    'engine': 120,
  },
  'units_entry': {
    'by': 120,
    'engine': 120,
  },
  'unstrike_entry': {
    'by': 120,
    'engine': 120,
  },
  'whole_entry': {
    'by': 120,
    'engine': 120,
  },
} as const
