from django.urls import path

from ridgeback.breeding import views

app_name = "breeding"
urlpatterns = [
    path("breeding/", views.clutches, name="list"),
    path("breeding/<int:pk>/", views.clutch, name="clutch"),
    path("breeding/<int:pk>/look/", views.look, name="look"),
    path("breeding/<int:pk>/box/", views.set_box, name="box"),
    path("breeding/<int:pk>/hatch/", views.hatch, name="hatch"),
    path("breeding/<int:pk>/end/", views.end, name="end"),
]
