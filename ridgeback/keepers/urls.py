from django.contrib.auth.views import LogoutView
from django.urls import path

from ridgeback.keepers import views

app_name = "keepers"
urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="sign-in"),
    path("sign-out/", LogoutView.as_view(), name="sign-out"),
    path("demo/", views.open_demo, name="demo"),
    path("preferences/", views.preferences, name="preferences"),
]
