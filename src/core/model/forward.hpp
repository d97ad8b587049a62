// Names of what a document holds, for headers that only pass it on: they need not be compiled anew when it changes.
#pragma once

namespace anvil::model {

struct Entry;
struct Document;
struct Part;
struct Place;
struct Thin;
struct Slender;
struct Section;
struct Profile;
struct Coil;
struct SpacePath;
struct Facets;
struct Feature;
struct RoundPattern;
struct BoxFeature;
struct PlateFeature;
struct AngleFeature;
struct CylinderFeature;
struct TubeFeature;
struct BallFeature;
struct BoltFeature;
struct Material;
struct Contact;
struct Course;
struct Step;
struct Support;
struct Motion;
struct Carrier;
struct Spring;
struct Temperature;
struct Stabilisation;
struct Region;
struct Load;
struct Bolt;
struct BoltBeam;
struct Direction;
class Quantities;

}  // namespace anvil::model
